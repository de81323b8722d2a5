#pragma once

namespace ignavo::app {

// Does the desktop ask programs to move little? Told by the files in which the desktops keep it:
// "AnimationDurationFactor=0" in kdeglobals, "gtk-enable-animations=0" in the settings of GTK.
bool desktopWantsLittleMotion();

}  // namespace ignavo::app
