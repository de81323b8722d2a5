#include "inspector/inspector.h"

#include <QButtonGroup>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPainter>
#include <QPushButton>
#include <QScrollArea>
#include <QToolButton>
#include <cmath>

#include "art/art.h"
#include "parts/circuit.h"
#include "project/edits.h"
#include "theme/theme.h"

namespace ignavo::app {

namespace {

QString str(const std::string& s) { return QString::fromStdString(s); }

// The part from the side, its legs named and where each sits.
class Portrait : public QWidget {
 public:
  Portrait(Part part, QWidget* parent) : QWidget(parent), part_(std::move(part)) {
    setFixedHeight(132);
  }

 protected:
  void paintEvent(QPaintEvent*) override {
    const Theme& t = theme();
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(Qt::NoPen);
    p.setBrush(t.field);
    p.drawRoundedRect(rect(), 8, 8);
    const bool four = part_.legs.size() > 2;
    paintPortrait(p, part_, QRectF(0, 0, width() * 0.5, height()));
    const PartKind* kind = catalogue().partKind(part_.type);
    double y = four ? 14 : 30;
    for (std::size_t i = 0; i < part_.legs.size() && kind; ++i) {
      p.setPen(t.ink);
      p.setFont(t.text(12, QFont::DemiBold));
      const double x = width() * 0.53, w = width() * 0.46;
      p.drawText(QRectF(x, y, w, 16), Qt::AlignLeft | Qt::AlignVCenter,
                 p.fontMetrics().elidedText(str(kind->print.legs[i].meaning), Qt::ElideRight,
                                            static_cast<int>(w)));
      p.setPen(t.ink2);
      p.setFont(t.mono(12));
      const QString where =
          part_.legs[i].in ? str(part_.legs[i].in->point) : QStringLiteral("in no hole");
      if (four)
        p.drawText(QRectF(x, y + 13, w, 14), Qt::AlignLeft | Qt::AlignVCenter, where);
      else
        p.drawText(QRectF(x, y + 17, w, 16), Qt::AlignLeft | Qt::AlignVCenter, where);
      y += four ? 28 : 44;
    }
  }

 private:
  Part part_;
};

// The way of the current, from source to ground, as chips.
class PathStrip : public QWidget {
 public:
  struct Chip {
    QString text;
    NetColour colour;
    bool filled = false;
  };
  PathStrip(std::vector<Chip> chips, QWidget* parent) : QWidget(parent), chips_(std::move(chips)) {
    setFixedHeight(heightFor(336));
    QStringList words;
    for (const Chip& c : chips_) words << c.text;
    setAccessibleName(QObject::tr("Path of the current: %1").arg(words.join(QStringLiteral(", "))));
  }

 protected:
  int heightFor(double room) const {
    double x = 0;
    int rows = 1;
    for (const Chip& c : chips_) {
      const double w = widthOf(c);
      if (x > 0 && x + w > room) x = 0, ++rows;
      x += w + 12;
    }
    return rows * 30 + 2;
  }
  static double widthOf(const Chip& c) {
    return QFontMetricsF(theme().text(12, QFont::DemiBold)).horizontalAdvance(c.text) + 18;
  }
  void paintEvent(QPaintEvent*) override {
    const Theme& t = theme();
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    double x = 1, y = 2;
    p.setFont(t.text(12, QFont::DemiBold));
    for (std::size_t i = 0; i < chips_.size(); ++i) {
      const double w = widthOf(chips_[i]);
      if (x > 1 && x + w > width()) x = 1, y += 30;
      const QRectF box(x, y, w, 23);
      p.setPen(chips_[i].filled ? QPen(Qt::NoPen) : QPen(t.line, 1));
      p.setBrush(chips_[i].filled ? t.net(chips_[i].colour) : t.field);
      p.drawRoundedRect(box, 5, 5);
      p.setPen(chips_[i].filled ? t.netInk(chips_[i].colour) : t.ink);
      p.drawText(box, Qt::AlignCenter, chips_[i].text);
      x += w;
      if (i + 1 < chips_.size()) {
        p.setPen(QPen(t.ink, 2));
        p.drawLine(QPointF(x + 1, y + 11.5), QPointF(x + 11, y + 11.5));
      }
      x += 12;
    }
  }

 private:
  std::vector<Chip> chips_;
};

class ShareBar : public QWidget {
 public:
  ShareBar(double share, QWidget* parent) : QWidget(parent), share_(share) { setFixedHeight(10); }

 protected:
  void paintEvent(QPaintEvent*) override {
    const Theme& t = theme();
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(Qt::NoPen);
    p.setBrush(t.line);
    p.drawRoundedRect(QRectF(0, 1, width(), 8), 4, 4);
    p.setBrush(share_ > 1.5 ? t.danger : share_ > 1 ? t.warning : t.good);
    p.drawRoundedRect(QRectF(0, 1, std::max(4.0, width() * std::min(1.0, share_)), 8), 4, 4);
  }

 private:
  double share_;
};

QLabel* label(const QString& text, QWidget* parent, double px, bool strong = false,
              bool second = false) {
  auto* l = new QLabel(text, parent);
  l->setWordWrap(true);
  l->setFont(theme().text(px, strong ? QFont::DemiBold : QFont::Normal));
  l->setStyleSheet(QStringLiteral("font-size: %1px; font-weight: %2; color: %3;")
                       .arg(px)
                       .arg(strong ? 700 : 400)
                       .arg((second ? theme().ink2 : theme().ink).name()));
  return l;
}

}  // namespace

Inspector::Inspector(Document& document, RunControl& run, QWidget* parent)
    : QWidget(parent), doc_(document), run_(run) {
  setObjectName(QStringLiteral("cardPane"));
  setAttribute(Qt::WA_StyledBackground);
  setAccessibleName(tr("What is selected"));
  auto* outer = new QVBoxLayout(this);
  outer->setContentsMargins(0, 0, 0, 0);
  auto* scroll = new QScrollArea(this);
  scroll->setWidgetResizable(true);
  scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  auto* inner = new QWidget(scroll);
  scroll->viewport()->setAutoFillBackground(false);
  column_ = new QVBoxLayout(inner);
  column_->setContentsMargins(22, 16, 22, 16);
  scroll->setWidget(inner);
  inner->setAutoFillBackground(false);
  outer->addWidget(scroll);
  setMinimumWidth(280);
  connect(&doc_, &Document::selectionChanged, this, &Inspector::rebuild);
  connect(&doc_, &Document::changed, this, [this] {
    // A field that is being typed in stays; everything else is made anew.
    if (page_ && page_->isAncestorOf(focusWidget()) && shownId_ == doc_.selection().value(0) &&
        doc_.selection().size() == 1)
      return;
    rebuild();
  });
  connect(&doc_, &Document::checked, this, &Inspector::refreshReadings);
  rebuild();
}

void Inspector::rebuild() {
  if (page_) {
    page_->hide();
    page_->deleteLater();
    column_->removeWidget(page_);
  }
  page_ = new QWidget(this);
  into_ = new QVBoxLayout(page_);
  into_->setContentsMargins(0, 0, 0, 0);
  into_->setSpacing(10);
  readings_ = nullptr;
  shownId_ = doc_.selection().size() == 1 ? doc_.selection().front() : QString();
  const Part* part = doc_.project().part(shownId_.toStdString());
  const Wire* wire = doc_.project().wire(shownId_.toStdString());
  if (part)
    partPage(*part);
  else if (wire)
    wirePage(*wire);
  else
    emptyPage();
  into_->addStretch();
  column_->addWidget(page_);
}

QWidget* Inspector::row(const QString& text, QWidget* field) {
  auto* w = new QWidget(page_);
  auto* h = new QHBoxLayout(w);
  h->setContentsMargins(0, 0, 0, 0);
  auto* l = label(text, w, 13, false, true);
  l->setFixedWidth(84);
  h->addWidget(l);
  h->addWidget(field, 1);
  into_->addWidget(w);
  return w;
}

void Inspector::partPage(const Part& part) {
  const PartKind* kind = catalogue().partKind(part.type);
  if (!kind) return;
  into_->addWidget(label(str(part.name), page_, 16, true));
  QString line = str(kind->label);
  if (kind->print.polarised)
    line += tr(" · the %1 is the anode (+)").arg(str(kind->print.legs[0].meaning));
  else if (kind->passes)
    line += QStringLiteral(" · ") + str(kind->shortText(part));
  into_->addWidget(label(line, page_, 12.5, false, true));
  auto* portrait = new Portrait(part, page_);
  into_->addWidget(portrait);
  addProps(part, *kind);
  auto* name = new QLineEdit(str(part.name), page_);
  name->setObjectName(QStringLiteral("partName"));
  name->setAccessibleName(tr("Name"));
  name->setMaxLength(60);
  const std::string id = part.id;
  connect(name, &QLineEdit::editingFinished, this, [this, name, id] {
    const Part* now = doc_.project().part(id);
    const std::string wanted = name->text().trimmed().toStdString();
    if (!now || wanted.empty() || wanted == now->name) return;
    const std::string free = freeName(doc_.project(), wanted);
    doc_.edit(tr("name %1").arg(str(free)),
              edits::changePart(doc_.project(), id, [&](Part& q) { q.name = free; }));
  });
  row(tr("Name"), name);
  addReadings(part, *kind);
  addActions(true, kind->print.polarised);
  auto* help =
      label(str(kind->what) + QStringLiteral(" ") + str(kind->place), page_, 12, false, true);
  into_->addWidget(help);
}

// What can be done with the selection, each with its key.
void Inspector::addActions(bool part, bool polarised) {
  auto* actions = new QWidget(page_);
  auto* grid = new QHBoxLayout(actions);
  grid->setContentsMargins(0, 4, 0, 0);
  grid->setSpacing(6);
  const auto add = [&](const char* name, const QString& text, const QString& tip,
                       void (Inspector::*wanted)()) {
    auto* b = new QPushButton(text, actions);
    b->setObjectName(QString::fromLatin1(name));
    b->setToolTip(tip);
    b->setStyleSheet(QStringLiteral("QPushButton { border-radius: 6px; padding: 5px 10px; } "
                                    "QPushButton:focus { border: 2px solid %1; padding: 4px 9px; }")
                         .arg(theme().ink.name()));
    // After the click, for the page is made anew by what it does.
    connect(b, &QPushButton::clicked, this, wanted, Qt::QueuedConnection);
    grid->addWidget(b);
  };
  if (part && polarised)
    add("actionFlip", tr("Turn round"), tr("Swaps its legs in place (F)"), &Inspector::flipAsked);
  if (part && !polarised)
    add("actionTurn", tr("Turn"), tr("Lays it another way (R)"), &Inspector::turnAsked);
  if (part)
    add("actionDuplicate", tr("Duplicate"), tr("A copy on the next free rows (Ctrl+D)"),
        &Inspector::duplicateAsked);
  add("actionRemove", tr("Remove"), tr("Takes it off the bench (Del)"), &Inspector::removeAsked);
  grid->addStretch();
  into_->addWidget(actions);
}

void Inspector::addProps(const Part& part, const PartKind& kind) {
  const std::string id = part.id;
  const auto change = [this, id](const std::string& key, const QString& title, PropValue value,
                                 bool merge) {
    const Part* now = doc_.project().part(id);
    if (!now) return;
    doc_.edit(tr("change the %1 of %2").arg(title.toLower(), str(now->name)),
              edits::changePart(doc_.project(), id,
                                [&](Part& q) {
                                  // A name that was made from the property goes with it.
                                  const PartKind* k = catalogue().partKind(q.type);
                                  const std::string before = k->nameOf(q);
                                  q.setProp(key, value);
                                  if (q.name == before && k->nameOf(q) != before)
                                    q.name = freeName(doc_.project(), k->nameOf(q));
                                }),
              merge ? QStringLiteral("prop ") + str(id + key) : QString());
  };
  for (const PropKind& prop : kind.props) {
    const QString title = str(prop.label);
    if (prop.type == PropKind::Type::choice && prop.key == "colour") {
      auto* swatches = new QWidget(page_);
      auto* h = new QHBoxLayout(swatches);
      h->setContentsMargins(0, 0, 0, 0);
      h->setSpacing(7);
      for (const std::string& choice : prop.choices) {
        auto* b = new QToolButton(swatches);
        b->setObjectName(QStringLiteral("swatch-") + str(choice));
        b->setFixedSize(26, 26);
        b->setToolTip(str(choice));
        b->setAccessibleName(str(choice));
        const bool on = part.text(prop.key, prop.choices.front()) == choice;
        b->setStyleSheet(
            QStringLiteral("QToolButton { border-radius: 13px; background: %1; border: %2px solid "
                           "%3; } QToolButton:focus { border: 3px solid %4; }")
                .arg(theme().ledColour(str(choice)).name())
                .arg(on ? 3 : 1)
                .arg((on ? theme().ink : theme().line).name(), theme().ink2.name()));
        connect(b, &QToolButton::clicked, this, [this, change, key = prop.key, title, choice] {
          setFocus();
          change(key, title, choice, false);
        });
        h->addWidget(b);
      }
      h->addStretch();
      row(title, swatches);
    } else if (prop.type == PropKind::Type::choice) {
      auto* box = new QComboBox(page_);
      box->setObjectName(QStringLiteral("prop-") + str(prop.key));
      for (const std::string& choice : prop.choices) box->addItem(str(choice));
      box->setCurrentText(str(part.text(prop.key, prop.choices.front())));
      connect(box, &QComboBox::textActivated, this,
              [change, key = prop.key, title](const QString& v) {
                change(key, title, v.toStdString(), false);
              });
      row(title, box);
    } else if (prop.e24) {
      auto* box = new QComboBox(page_);
      box->setObjectName(QStringLiteral("prop-") + str(prop.key));
      box->setAccessibleName(title);
      const double now = part.number(prop.key, prop.otherwise);
      int at = -1;
      for (double decade = 1; decade <= 1e7; decade *= 10)
        for (double e : e24Decade()) {
          const double value = std::round(e * decade * 10) / 10;
          if (value < prop.least || value > prop.most) continue;
          if (std::abs(value - now) < 1e-6 * now) at = box->count();
          box->addItem(str(ohmsText(value)), value);
        }
      if (at < 0) {
        box->insertItem(0, str(ohmsText(now)), now);
        at = 0;
      }
      box->setCurrentIndex(at);
      connect(box, &QComboBox::activated, this, [this, box, change, key = prop.key, title](int i) {
        setFocus();
        change(key, title, box->itemData(i).toDouble(), true);
      });
      row(title, box);
      QStringList bands;
      for (const std::string& b : bandsOf(now)) bands << str(b);
      row(tr("Bands"), label(bands.join(QStringLiteral(", ")), page_, 13));
    } else if (prop.type == PropKind::Type::number) {
      auto* spin = new QDoubleSpinBox(page_);
      spin->setObjectName(QStringLiteral("prop-") + str(prop.key));
      spin->setAccessibleName(title);
      spin->setLocale(QLocale::c());
      spin->setDecimals(2);
      spin->setRange(prop.least, prop.most);
      spin->setSingleStep(prop.otherwise);
      spin->setSuffix(QStringLiteral(" ") + str(prop.unit));
      spin->setValue(part.number(prop.key, prop.otherwise));
      connect(spin, &QDoubleSpinBox::valueChanged, this,
              [change, key = prop.key, title](double v) { change(key, title, v, true); });
      row(title, spin);
    }
  }
}

void Inspector::addReadings(const Part&, const PartKind&) {
  readings_ = new QWidget(page_);
  into_->addWidget(readings_);
  refreshReadings();
}

// What the check predicts for the worst combination.
void Inspector::refreshReadings() {
  if (!readings_) return;
  const Part* part = doc_.project().part(shownId_.toStdString());
  if (!part) return;
  qDeleteAll(readings_->findChildren<QWidget*>(QString(), Qt::FindDirectChildrenOnly));
  delete readings_->layout();
  auto* column = new QVBoxLayout(readings_);
  column->setContentsMargins(0, 6, 0, 0);
  column->setSpacing(7);
  for (const Finding& f : doc_.check().findings) {
    if (f.parts.empty() || f.parts.front() != part->id || f.meant) continue;
    auto* l = label(str(f.title), readings_, 13, true);
    l->setStyleSheet(QStringLiteral("color: %1; font-weight: 600; font-size: 13px;")
                         .arg(theme().severity(f.severity).name()));
    column->addWidget(l);
    column->addWidget(label(str(f.reason), readings_, 12.5, false, true));
  }
  const PartKind* kind = catalogue().partKind(part->type);
  for (const WorstReading& w : doc_.check().readings) {
    if (w.part != part->id) continue;
    QStringList when;
    for (const auto& [id, how] : w.pose) {
      const Part* other = doc_.project().part(id);
      if (how == "high") when << tr("%1 goes high").arg(str(id));
      if (how == "pressed") when << tr("%1 is held").arg(other ? str(other->name) : str(id));
    }
    column->addWidget(label(
        when.isEmpty() ? tr("While the power is on") : tr("If %1").arg(when.join(tr(" and "))),
        readings_, 13, true));
    const auto value = [&](const QString& name, const QString& v, const QString& more = {}) {
      auto* r = new QWidget(readings_);
      auto* h = new QHBoxLayout(r);
      h->setContentsMargins(0, 0, 0, 0);
      h->addWidget(label(name, r, 13, false, true), 1);
      auto* number = new QLabel(v, r);
      number->setStyleSheet(
          QStringLiteral("font-family: 'JetBrains Mono'; font-size: 13px; font-weight: 600;"));
      number->setAlignment(Qt::AlignRight);
      h->addWidget(number);
      auto* m = label(more, r, 12, false, true);
      m->setFixedWidth(76);
      h->addWidget(m);
      column->addWidget(r);
    };
    value(tr("Current through it"), QString::number(std::abs(w.amps) * 1000, 'f', 1) + tr(" mA"),
          kind->ratedAmps > 0 ? tr("of %1").arg(str(w.limit)) : QString());
    value(tr("Voltage across it"), QString::number(w.volts, 'f', 2) + tr(" V"));
    if (kind->shows == Shows::light) {
      const double light = lightOf(w.amps);
      value(tr("Brightness"), light > 0.7        ? tr("bright")
                              : light > 0.35     ? tr("medium")
                              : light > litLight ? tr("dim")
                                                 : tr("dark"));
    } else {
      value(tr("Heat"), QString::number(w.watts * 1000, 'f', 0) + tr(" mW"),
            w.limit.empty() ? QString() : tr("of %1").arg(str(w.limit)));
    }
    if (!w.limit.empty()) column->addWidget(new ShareBar(w.share, readings_));

    // The path: pin, parts in series in this part's island, ground.
    const Circuit circuit(doc_.project());
    int index = -1;
    for (std::size_t i = 0; i < doc_.project().parts->size(); ++i)
      if ((*doc_.project().parts)[i]->id == part->id) index = static_cast<int>(i);
    if (index < 0 || std::abs(w.amps) < 1e-7) continue;
    std::vector<PathStrip::Chip> chips;
    std::vector<QString> inOrder;
    const Nets& nets = doc_.nets();
    // From the first read leg back to a source, and from the second on to ground.
    const auto walk = [&](int leg) {
      std::vector<PathStrip::Chip> found;
      int net = nets.ofLeg({index, leg}), from = index;
      for (int guard = 0; guard < 12; ++guard) {
        const Net& n = nets.all()[static_cast<std::size_t>(net)];
        if (!n.pins.empty()) {
          found.push_back({str(n.name), doc_.identities().ofNet(net), true});
          break;
        }
        int next = -1, out = 0;
        for (const LegRef& l : n.legs)
          if (l.part != from && next < 0) {
            const PartKind* k = circuit.kindOf(l.part);
            next = l.part;
            out = l.leg == k->readLegs.first             ? k->readLegs.second
                  : l.leg == k->readLegs.second          ? k->readLegs.first
                  : k->readLegs.first == 0 && l.leg == 1 ? k->readLegs.second
                                                         : k->readLegs.first;
          }
        if (next < 0) break;
        const Part& other = *(*doc_.project().parts)[static_cast<std::size_t>(next)];
        const PartKind* k = circuit.kindOf(next);
        found.push_back({k->passes ? str(k->shortText(other)) : str(other.name), {}, false});
        from = next;
        net = nets.ofLeg({next, out});
      }
      return found;
    };
    const bool forward = w.amps >= 0;
    auto before = walk(forward ? kind->readLegs.first : kind->readLegs.second);
    const auto after = walk(forward ? kind->readLegs.second : kind->readLegs.first);
    chips.assign(before.rbegin(), before.rend());
    chips.push_back({kind->passes ? str(kind->shortText(*part)) : str(part->name), {}, false});
    chips.insert(chips.end(), after.begin(), after.end());
    column->addWidget(label(tr("Path of the current"), readings_, 13, true));
    column->addWidget(new PathStrip(chips, readings_));
  }
}

void Inspector::wirePage(const Wire& wire) {
  into_->addWidget(label(tr("Wire"), page_, 16, true));
  into_->addWidget(label(tr("%1 → %2").arg(str(wire.from.point), str(wire.to.point)), page_, 13));
  const int net = doc_.nets().of(wire.from);
  if (net >= 0)
    into_->addWidget(label(tr("It belongs to the net of %1.")
                               .arg(str(doc_.nets().all()[static_cast<std::size_t>(net)].name)),
                           page_, 13, false, true));
  const NetColour colour = doc_.identities().ofNet(net);
  if (colour.kind == NetColour::Kind::pin) {
    auto* swatches = new QWidget(page_);
    auto* h = new QHBoxLayout(swatches);
    h->setContentsMargins(0, 0, 0, 0);
    h->setSpacing(5);
    for (std::size_t i = 0; i < identityNames().size(); ++i) {
      auto* b = new QToolButton(swatches);
      b->setFixedSize(24, 24);
      b->setToolTip(str(identityNames()[i]));
      b->setAccessibleName(str(identityNames()[i]));
      const bool on = colour.index == static_cast<int>(i);
      b->setStyleSheet(
          QStringLiteral("QToolButton { border-radius: 6px; background: %1; border: %2px solid %3; "
                         "} QToolButton:focus { border: 3px solid %4; }")
              .arg(theme().identity[i].name())
              .arg(on ? 3 : 1)
              .arg((on ? theme().ink : theme().line).name(), theme().ink2.name()));
      connect(b, &QToolButton::clicked, this, [this, net, i] {
        setFocus();
        // The pin's colour is that of its wires: all of the net are changed.
        Project p = doc_.project();
        for (const auto& w : *doc_.project().wires)
          if (doc_.nets().of(w->from) == net)
            p = edits::changeWire(std::move(p), w->id,
                                  [&](Wire& q) { q.colour = identityNames()[i]; });
        doc_.edit(tr("recolour a wire"), std::move(p));
      });
      h->addWidget(b);
    }
    h->addStretch();
    into_->addWidget(label(tr("Colour of this pin, everywhere"), page_, 13, true));
    into_->addWidget(swatches);
  } else {
    into_->addWidget(
        label(colour.kind == NetColour::Kind::supply   ? tr("Red: it carries the supply.")
              : colour.kind == NetColour::Kind::ground ? tr("Dark: it carries ground.")
                                                       : tr("Grey: no pin is joined to it yet."),
              page_, 13, false, true));
  }
  into_->addWidget(
      label(tr("Drag an end to another hole · double-click bends it"), page_, 12, false, true));
  addActions(false, false);
}

// Nothing selected: how to begin, or what is there.
void Inspector::emptyPage() {
  const bool fresh = doc_.project().parts->empty() &&
                     !std::any_of(doc_.project().programs.begin(), doc_.project().programs.end(),
                                  [](const auto& p) { return p->hasSteps(); });
  if (fresh) {
    into_->addWidget(label(tr("Begin with one small thing"), page_, 16, true));
    into_->addWidget(label(tr("Board and breadboard are ready. Each of these shows something at "
                              "once and can be undone."),
                           page_, 13, false, true));
    const struct {
      const char* what;
      QString title, text;
    } cards[] = {
        {"blink", tr("Blink the board’s own lamp"),
         tr("Two waits and two steps; no wiring at all.")},
        {"light", tr("Light an LED from 5 V"), tr("Lamp, resistor and wires; no program at all.")},
        {"example", tr("Open a ferry example"),
         tr("The landing beacon: a lamp on pin D4 that blinks.")}};
    for (const auto& c : cards) {
      auto* b = new QPushButton(page_);
      b->setObjectName(QStringLiteral("start-") + QString::fromLatin1(c.what));
      b->setAccessibleName(c.title);
      b->setAccessibleDescription(c.text);
      auto* inside = new QVBoxLayout(b);
      inside->setContentsMargins(14, 11, 14, 11);
      inside->setSpacing(2);
      inside->addWidget(label(c.title, b, 14, true));
      inside->addWidget(label(c.text, b, 12.5, false, true));
      for (QLabel* l : b->findChildren<QLabel*>())
        l->setAttribute(Qt::WA_TransparentForMouseEvents);
      b->setMinimumHeight(66);
      b->setStyleSheet(
          QStringLiteral("QPushButton { text-align: left; border-radius: 8px; padding: 12px 14px; "
                         "background: %1; font-weight: 500; } QPushButton:hover { border-color: "
                         "%2; } QPushButton:focus { border: 2px solid %2; padding: 11px 13px; }")
              .arg(theme().field.name(), theme().ink.name()));
      const QString what = QString::fromLatin1(c.what);
      connect(b, &QPushButton::clicked, this, [this, what] { Q_EMIT asked(what); });
      into_->addWidget(b);
    }
    return;
  }
  const int n = static_cast<int>(doc_.selection().size());
  if (n > 1) {
    into_->addWidget(label(tr("%1 things are selected").arg(n), page_, 16, true));
    into_->addWidget(label(tr("Arrow keys move them"), page_, 12.5, false, true));
    addActions(true, true);
    return;
  }
  into_->addWidget(label(str(doc_.project().title), page_, 16, true));
  if (!doc_.project().about.empty())
    into_->addWidget(label(str(doc_.project().about), page_, 13, false, true));
  into_->addWidget(label(tr("On this bench"), page_, 13, true));
  for (const auto& part : *doc_.project().parts) {
    const PartKind* kind = catalogue().partKind(part->type);
    auto* b = new QPushButton(
        kind && kind->passes ? str(part->name + " · " + kind->shortText(*part)) : str(part->name),
        page_);
    b->setStyleSheet(
        QStringLiteral(
            "QPushButton { text-align: left; border: 0; border-radius: 5px; padding: 4px 8px; "
            "background: %1; font-weight: 500; } QPushButton:hover { background: %2; } "
            "QPushButton:focus { border: 2px solid %3; padding: 2px 6px; }")
            .arg(theme().card.name(), theme().field.name(), theme().ink.name()));
    const QString id = str(part->id);
    connect(b, &QPushButton::clicked, this, [this, id] { doc_.select({id}); });
    into_->addWidget(b);
  }
}

}  // namespace ignavo::app
