#pragma once

namespace ignavo::app {

// A style sheet makes the words in an empty field half transparent, too faint to be read.
// Installed on the application, every field shows them in the theme's second ink.
void showPlaceholdersClearly();

}  // namespace ignavo::app
