#include "theme/theme.h"

#include "theme/placeholders.h"
#include "theme/plain_words.h"

#include <QApplication>
#include <QFileInfo>
#include <QFontDatabase>
#include <QPalette>
#include <algorithm>
#include <cmath>
#include <map>
#include <string>

namespace ignavo::app {

namespace {

Theme light() {
  Theme t;
  t.paper = "#F4F0E8", t.mat = "#ECE6DA", t.matDot = "#DED5C4", t.card = "#FFFDF8";
  t.ink = "#23262B", t.ink2 = "#5A5C60", t.line = "#D8D0C0", t.tray = "#E3DAC9",
  t.field = "#F1ECE2", t.edge = "#7F7768";
  t.amber = "#E8A317", t.amberWash = "#FFF3D6", t.danger = "#C8322B", t.dangerWash = "#FBE9E4";
  t.warning = "#955700", t.note = "#3457A6", t.good = "#2E7D4F";
  t.inkOnDark = "#FFFDF8";
  t.tooltip = "#23262B", t.tooltipInk = "#FFFDF8", t.tooltipInk2 = "#C9C5BC";
  t.supply = "#C8322B", t.ground = "#23262B", t.plainWire = "#7D7468";
  t.breadboard = "#FFFDF8", t.breadboardEdge = "#D8D0C0", t.trench = "#E7E0D2", t.hole = "#3F4044";
  t.holeRing = "#CFC7B7", t.railPlus = "#C8322B", t.railMinus = "#3457A6", t.rowPrint = "#5A5C60";
  t.board = "#46304E", t.boardEdge = "#5B4264", t.boardPrint = "#F1E9DC", t.boardChip = "#17171A";
  t.boardMetal = "#BDBAB3", t.boardHeader = "#1B1B1E", t.lampOn = "#7BE38B", t.lampOff = "#75657C";
  t.leg = "#8B877F", t.resistorBody = "#E8D3A6", t.resistorEdge = "#A48D5C",
  t.buttonBody = "#37383C";
  t.buttonCap = "#1D1E21", t.buttonRing = "#85868B", t.shadow = QColor(60, 45, 20, 40);
  t.halo = QColor(255, 253, 248, 190);
  t.tintLow = "#54534F", t.tintHigh = "#EEC45D";
  t.wireCasing = "#CFC7B7", t.onMark = "#FFFFFF", t.onAmber = "#23262B", t.burnt = "#4B4541",
  t.charred = "#4A3B2E";
  t.flatSide = "#23262B", t.resetButton = "#CFCAC0", t.resetCap = "#2A2A2D", t.chipDot = "#55555A";
  t.pinEdge = "#8C8A86", t.pinHole = "#050506";
  t.gloss = QColor(255, 255, 255, 190), t.glossFaint = QColor(255, 255, 255, 35),
  t.shade = QColor(0, 0, 0, 18);
  t.flow = QColor(255, 255, 255, 210);
  t.plastic = "#2A2B2F", t.plasticEdge = "#121316", t.steel = "#B4B7BB", t.steelEdge = "#75787D";
  t.brass = "#C7A24E", t.cream = "#EFE6D2", t.slate = "#4B5866", t.slateEdge = "#323C47";
  t.ochre = "#C78B3C", t.can = "#2C4468", t.canStripe = "#B9C3D1", t.track = "#B4622B";
  t.bead = "#5B3A54", t.knob = "#E6DCC6", t.servo = "#3F6470", t.segmentOff = "#43444A";
  t.leadA = "#B0584A", t.leadB = "#4E5157", t.leadSignal = "#D9B25A";
  t.identity = {QColor("#266859"), QColor("#3FB6F6"), QColor("#2D6BE6"), QColor("#8E9095"),
                QColor("#322998"), QColor("#8AAF7B"), QColor("#ECB3CC"), QColor("#512E1D"),
                QColor("#FAEE79"), QColor("#9D5290")};
  const QColor white("#FFFFFF"), ink("#23262B");
  t.identityInk = {white, ink, white, ink, white, ink, ink, white, ink, white};
  return t;
}

Theme night() {
  Theme t = light();
  t.dark = true;
  t.paper = "#1E2024", t.mat = "#25272B", t.matDot = "#34373D", t.card = "#2B2D32",
  t.ink = "#F1ECE2";
  t.ink2 = "#B9B4A9", t.line = "#45474D", t.tray = "#191B1E", t.field = "#35383E",
  t.edge = "#80838A";
  t.amberWash = "#4A3B1A", t.danger = "#FF8077", t.dangerWash = "#4A2A28", t.warning = "#F0B45A";
  t.note = "#9DB9FF", t.good = "#7ED3A0", t.inkOnDark = "#1E2024";
  t.tooltip = "#F1ECE2", t.tooltipInk = "#1E2024", t.tooltipInk2 = "#55575C";
  t.ground = "#111214", t.supply = "#D8453D", t.plainWire = "#968C7E";
  t.breadboard = "#D9D3C6", t.breadboardEdge = "#98917F", t.trench = "#BFB8A8",
  t.holeRing = "#B3AB9A";
  t.onMark = "#1E2024", t.flatSide = "#101113";
  t.plastic = "#3D3F45", t.plasticEdge = "#6E7178";  // seen against the dark mat
  t.halo = QColor(20, 20, 22, 130), t.shadow = QColor(0, 0, 0, 110);
  return t;
}

Theme current = light();

}  // namespace

const Theme& theme() { return current; }
void setTheme(bool dark) { current = dark ? night() : light(); }

void applyTheme() {
  applyColours();
  applyShapes();
}

void applyColours() {
  showWordsPlainly();
  showPlaceholdersClearly();
  const Theme& t = current;
  QPalette p;
  p.setColor(QPalette::Window, t.paper);
  p.setColor(QPalette::Base, t.card);
  p.setColor(QPalette::AlternateBase, t.field);
  p.setColor(QPalette::Button, t.card);
  for (const auto role : {QPalette::WindowText, QPalette::Text, QPalette::ButtonText})
    p.setColor(role, t.ink);
  p.setColor(QPalette::PlaceholderText, t.ink2);
  p.setColor(QPalette::Highlight, t.ink);
  p.setColor(QPalette::HighlightedText, t.inkOnDark);
  QApplication::setPalette(p);
  QApplication::setFont(t.text(13));
}

void applyShapes() { qApp->setStyleSheet(theme().styleSheet()); }

void loadFonts() {
  // Asked for each family once: it takes long.
  auto isInstalled = [known = std::map<std::string, bool>()](const char* family) mutable {
    const auto [at, isNew] = known.try_emplace(family);
    if (isNew) at->second = QFontDatabase::hasFamily(QLatin1String(family));
    return at->second;
  };
  struct Font {
    const char *family, *file, *installed;
  };
  static constexpr const char *inter = INTER_FONTS "/", *mono = MONO_FONTS "/";
  for (const Font& font : {Font{"Inter", "Inter-Regular.otf", inter},
                           {"Inter", "Inter-Medium.otf", inter},
                           {"Inter", "Inter-SemiBold.otf", inter},
                           {"Inter", "Inter-Bold.otf", inter},
                           {"JetBrains Mono", "JetBrainsMono-Regular.ttf", mono},
                           {"JetBrains Mono", "JetBrainsMono-Bold.ttf", mono}}) {
    const QString file = QLatin1String(font.file), ours = QLatin1String(":/fonts/") + file;
    // The very same that the machine has need not be held in memory once more.
    const bool there =
        QFileInfo(QLatin1String(font.installed) + file).size() == QFileInfo(ours).size() &&
        isInstalled(font.family);
    if (!there) QFontDatabase::addApplicationFont(ours);
  }
}

QFont Theme::text(double px, int weight) const {
  QFont f(QStringLiteral("Inter"));
  f.setPixelSize(qRound(px));
  f.setWeight(static_cast<QFont::Weight>(weight));
  return f;
}

QFont Theme::mono(double px, int weight) const {
  QFont f(QStringLiteral("JetBrains Mono"));
  f.setPixelSize(qRound(px));
  f.setWeight(static_cast<QFont::Weight>(weight));
  f.setFixedPitch(true);
  f.setStyleStrategy(QFont::PreferNoShaping);  // != and |= stay as they are typed
  return f;
}

QColor Theme::net(const NetColour& c) const {
  switch (c.kind) {
    case NetColour::Kind::supply:
      return supply;
    case NetColour::Kind::ground:
      return ground;
    case NetColour::Kind::plain:
      return plainWire;
    case NetColour::Kind::pin:
      break;
  }
  return identity[static_cast<std::size_t>(c.index) % identity.size()];
}

QColor Theme::netInk(const NetColour& c) const {
  if (c.kind != NetColour::Kind::pin) return QColor("#FFFFFF");
  return identityInk[static_cast<std::size_t>(c.index) % identityInk.size()];
}

QColor Theme::casing(const NetColour& c, const QColor& on) const {
  return contrast(net(c), on) < seenContrast ? ink : QColor();
}

double contrast(const QColor& a, const QColor& b) {
  const auto luminance = [](const QColor& c) {
    const auto linear = [](double v) {
      return v <= 0.04045 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4);
    };
    return 0.2126 * linear(c.redF()) + 0.7152 * linear(c.greenF()) + 0.0722 * linear(c.blueF());
  };
  const double one = luminance(a) + 0.05, other = luminance(b) + 0.05;
  return std::max(one, other) / std::min(one, other);
}

QColor Theme::severity(Severity s) const {
  return s == Severity::danger ? danger : s == Severity::warning ? warning : note;
}

QColor Theme::ledColour(const QString& name) const {
  if (name == "orange") return "#F28A24";
  if (name == "amber") return "#F2B430";
  if (name == "green") return "#35A853";
  if (name == "blue") return "#2F86E0";
  if (name == "white") return "#F4F3EE";
  if (name == "pink") return "#E97FB0";
  return "#E0423A";
}

QColor Theme::ledGlow(const QString& name) const {
  return name == "white" ? QColor("#FFC94F") : ledColour(name);
}

QColor Theme::ledLit(const QString& name) const {
  return name == "white" ? QColor("#FFF3C9") : ledColour(name).lighter(120);
}

QColor Theme::band(const QString& name) const {
  if (name == "black") return "#1C1C1E";
  if (name == "brown") return "#6B3E1E";
  if (name == "red") return "#C22B25";
  if (name == "orange") return "#E67B1F";
  if (name == "yellow") return "#E9C81E";
  if (name == "green") return "#2E8B4B";
  if (name == "blue") return "#2757B5";
  if (name == "violet") return "#7B3FA0";
  if (name == "grey") return "#85868A";
  if (name == "white") return "#F6F6F4";
  if (name == "silver") return "#B9BCC0";
  return "#BE9A3A";  // gold
}

QString Theme::styleSheet() const {
  QString s = QStringLiteral(R"(
    QWidget { color: @ink; }
    QToolTip { background: @tooltip; color: @tipink; border: 0; padding: 6px; }
    QMenu { background: @card; border: 1px solid @line; padding: 6px; }
    QMenu::item { padding: 6px 28px 6px 14px; border-radius: 4px; }
    QMenu::item:selected { background: @ink; color: @onink; }
    QMenu::item:disabled { color: @ink2; }
    QMenu::separator { height: 1px; background: @line; margin: 6px 4px; }
    QLineEdit, QComboBox, QDoubleSpinBox { background: @field; border: 1px solid @edge; border-radius: 5px; padding: 5px 8px; selection-background-color: @ink; selection-color: @onink; }
    QLineEdit:focus, QComboBox:focus, QDoubleSpinBox:focus { border: 2px solid @ink; padding: 4px 7px; }
    QComboBox QAbstractItemView { background: @card; border: 1px solid @line; selection-background-color: @ink; selection-color: @onink; }
    QComboBox::drop-down { border: 0; width: 22px; }
    QComboBox::down-arrow { image: url(:/icons/down.png); width: 12px; height: 12px; }
    QDoubleSpinBox::up-button, QDoubleSpinBox::down-button { border: 0; width: 20px; background: transparent; }
    QDoubleSpinBox::up-arrow { image: url(:/icons/up.png); width: 11px; height: 11px; }
    QDoubleSpinBox::down-arrow { image: url(:/icons/down.png); width: 11px; height: 11px; }
    QSlider:horizontal { min-height: 24px; }
    QSlider::groove:horizontal { height: 6px; background: @line; border-radius: 3px; }
    QSlider::sub-page:horizontal { background: @ink2; border-radius: 3px; }
    QSlider::handle:horizontal { width: 16px; height: 16px; margin: -6px 0; border-radius: 8px; background: @card; border: 2px solid @ink; }
    QSlider::handle:horizontal:focus { background: @ink; }
    QPushButton { background: @card; border: 1px solid @line; border-radius: 15px; padding: 6px 16px; font-weight: 500; }
    QPushButton:hover { border-color: @ink2; }
    QPushButton:focus { border: 2px solid @ink; padding: 5px 15px; }
    QPushButton:disabled { color: @ink2; background: @paper; }
    QLabel[aside="true"] { color: @ink2; font-size: 12px; }
    QPushButton[tag="true"] { padding: 2px 8px; border-radius: 9px; border: 1px solid @ink2; background: @card; }
    QPushButton[tag="true"]:focus { border: 2px solid @ink; padding: 1px 7px; }
    QPushButton[primary="true"] { background: @ink; color: @onink; border-color: @ink; }
    QPushButton[primary="true"]:focus { border: 2px solid @amber; }
    QPushButton[primary="true"]:disabled { background: @line; color: @ink2; border-color: @line; }
    QPushButton[flat="true"] { background: transparent; border: 0; padding: 4px 6px; text-decoration: underline; }
    QPushButton[tab="true"] { border: 0; background: transparent; padding: 5px 14px; border-radius: 13px; font-weight: 600; }
    QPushButton[tab="true"]:checked { background: @ink; color: @onink; }
    QPushButton[tab="true"]:focus { border: 2px solid @ink2; padding: 3px 12px; }
    QPushButton[tab="true"][tight="true"] { padding: 3px 7px; }
    QPushButton[tab="true"][tight="true"]:focus { padding: 1px 5px; }
    QPushButton[close="true"], QPushButton[close="true"]:focus { padding: 1px 0 3px 0; font-size: 17px; }
    QPushButton[tight="true"], QPushButton[tight="true"]:focus { padding: 4px 7px; font-size: 12px; border-radius: 10px; }
    QToolButton[segment="true"] { background: @card; border: 1px solid @line; border-radius: 5px; padding: 3px 8px; font-size: 13px; }
    QToolButton[segment="true"]:hover { border-color: @ink2; }
    QToolButton[segment="true"]:checked { background: @ink; color: @onink; border-color: @ink; }
    QToolButton[segment="true"]:focus { border: 2px solid @ink2; padding: 2px 7px; }
    QListWidget#partList { background: transparent; border: 0; outline: 0; }
    QListWidget#partList::item { padding: 5px 6px; border-radius: 5px; }
    QListWidget#partList::item:hover { background: @field; }
    QListWidget#partList::item:selected { background: @field; color: @ink; }
    QCheckBox { spacing: 8px; }
    QCheckBox::indicator { width: 15px; height: 15px; border: 1.5px solid @ink2; border-radius: 4px; background: @card; }
    QCheckBox::indicator:checked { background: @good; border-color: @good; image: url(:/icons/tick.png); }
    QCheckBox:focus { outline: 0; }
    QCheckBox::indicator:focus { border: 2px solid @ink; }
    QScrollArea { border: 0; background: transparent; }
    QScrollBar:vertical { width: 10px; background: transparent; }
    QScrollBar::handle:vertical { background: @line; border-radius: 4px; min-height: 30px; margin: 1px; }
    QScrollBar:horizontal { height: 10px; background: transparent; }
    QScrollBar::handle:horizontal { background: @line; border-radius: 4px; min-width: 30px; margin: 1px; }
    QScrollBar::add-line, QScrollBar::sub-line, QScrollBar::add-page, QScrollBar::sub-page { width: 0; height: 0; background: transparent; }
    QSplitter::handle { background: @line; }
    QPlainTextEdit { background: @card; border: 1px solid @edge; border-radius: 6px; selection-background-color: @amberwash; selection-color: @ink; }
    QProgressBar { background: @line; border: 0; border-radius: 3px; max-height: 6px; }
    QProgressBar::chunk { background: @good; border-radius: 3px; }
    #pane { background: @paper; }
    #cardPane { background: @card; }
    #tray { background: @tray; }
    QLabel[second="true"] { color: @ink2; font-size: 12.5px; }
    #offer, #notice, QFrame#trialBar { background: @amberwash; }
    #codeBar, #keepBar, #findBar, #guessBar { background: @card; border-bottom: 1px solid @line; }
    #turnBar { background: @card; }
    #hint { background: @card; border: 1px solid @line; border-radius: 14px; padding: 5px 14px; color: @ink2; font-size: 13px; }
    #turnBar QPushButton { padding: 2px 11px; border-radius: 11px; }
    QFrame#allSteps { background: @paper; border: 1px solid @edge; border-radius: 8px; }
    QLabel#programHeads { background: @paper; border-bottom: 1px solid @line; }
    QLabel#programProblem { color: @danger; font-weight: 500; }
    #notice { font-weight: 500; }
    #notice[bad="true"] { background: @dangerwash; }
  )");
  const auto put = [&](const char* key, const QColor& c) {
    s.replace(QLatin1String(key), c.name());
  };
  put("@tooltip", tooltip), put("@tipink", tooltipInk), put("@onink", inkOnDark),
      put("@ink2", ink2), put("@ink", ink);
  put("@card", card), put("@line", line), put("@field", field), put("@paper", paper),
      put("@amberwash", amberWash);
  put("@dangerwash", dangerWash), put("@danger", danger), put("@edge", edge), put("@amber", amber),
      put("@good", good), put("@tray", tray);
  return s;
}

}  // namespace ignavo::app
