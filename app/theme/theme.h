#pragma once
#include <QColor>
#include <QFont>
#include <QString>
#include <array>

#include "bench/identity.h"
#include "check/finding.h"

namespace ignavo::app {

// Every colour, size and font of the application. Nothing else names a colour.
struct Theme {
  bool dark = false;
  QColor paper, mat, matDot, card, ink, ink2, line, tray, field;
  QColor edge;  // of fields, and rails that are not gone along: at least 3 : 1 on any ground
  QColor amber, amberWash, danger, dangerWash, warning, note, good;
  QColor inkOnDark;  // text on ink-coloured buttons and tooltips
  QColor tooltip, tooltipInk, tooltipInk2;
  QColor supply, ground, plainWire;
  QColor breadboard, breadboardEdge, trench, hole, holeRing, railPlus, railMinus, rowPrint;
  QColor board, boardEdge, boardPrint, boardChip, boardMetal, boardHeader, lampOn, lampOff;
  QColor leg, resistorBody, resistorEdge, buttonBody, buttonCap, buttonRing, shadow;
  QColor halo;               // around wires, where they cross
  QColor tintLow, tintHigh;  // voltage tint
  QColor wireCasing;         // around dark wires on the night bench
  QColor onMark;             // numbers on marks
  QColor onAmber;            // words on amber
  QColor burnt, charred;     // lamp and resistor after damage
  QColor flatSide;           // line at an LED's short leg
  QColor resetButton, resetCap, chipDot, pinEdge, pinHole;
  // What parts are made of.
  QColor plastic, plasticEdge, steel, steelEdge, brass, cream, slate, slateEdge, ochre, can;
  QColor canStripe, track, bead, knob, servo, segmentOff, leadA, leadB, leadSignal;
  QColor gloss, glossFaint, shade;  // light and shade on round things
  QColor flow;                      // dashes of current
  std::array<QColor, 10> identity, identityInk;

  static constexpr double pitch = 17;  // pixels between holes at 100 %
  static constexpr int topBar = 52;
  static constexpr int margin = 16;
  static constexpr int radius = 6;

  QFont text(double px = 13, int weight = QFont::Normal) const;
  QFont mono(double px = 13, int weight = QFont::Normal) const;

  QColor net(const NetColour& colour) const;
  QColor netInk(const NetColour& colour) const;
  // What goes round a pin's colour where that alone would not be seen on its ground: ink;
  // invalid where it needs nothing.
  QColor casing(const NetColour& colour, const QColor& on) const;
  QColor severity(Severity s) const;
  QColor ledColour(const QString& name) const;
  // White light needs a tint to be seen on white.
  QColor ledGlow(const QString& name) const;
  QColor ledLit(const QString& name) const;  // its dome, at its brightest
  QColor band(const QString& name) const;
  // Style sheet of the ordinary widgets.
  QString styleSheet() const;
};

// Contrast of two opaque colours, 1 to 21, by their relative luminances as WCAG 2 defines them.
double contrast(const QColor& a, const QColor& b);
constexpr double seenContrast = 3;    // least of what is no text
constexpr double readContrast = 4.5;  // and of text

const Theme& theme();
void setTheme(bool dark);
// Gives the theme's palette and style sheet to the application.
void applyTheme();
// The same in two: colours and fonts, which a window is built with; and the shapes of what stands
// in it, which come sooner for all of a window at once than for each widget as it is built.
void applyColours();
void applyShapes();
// Loads the bundled fonts. Call once, after the application object exists.
void loadFonts();

}  // namespace ignavo::app
