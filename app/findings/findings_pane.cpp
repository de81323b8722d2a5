#include "findings/findings_pane.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPushButton>
#include <QScrollArea>
#include <algorithm>
#include <cmath>

#include "art/art.h"
#include "document/when_shown.h"
#include "theme/theme.h"

namespace ignavo::app {

namespace {

QString str(const std::string& s) { return QString::fromStdString(s); }

constexpr int roomAround = 110;   // what of the pane's width is not a card's row
constexpr int roomForMore = 180;  // "Show me" and "It is meant so"

// One finding as a card.
class FindingCard : public QWidget {
 public:
  FindingCard(int index, const Finding& finding, QWidget* parent)
      : QWidget(parent), index_(index), severity_(finding.severity), meant_(finding.meant) {
    setObjectName(QStringLiteral("finding%1").arg(index));
    setFocusPolicy(Qt::StrongFocus);
    setAttribute(Qt::WA_Hover);
    setAccessibleName(str(finding.title));
    setAccessibleDescription(QString::fromUtf8(severityTitle(finding.severity)) +
                             QStringLiteral(". ") + str(finding.reason));
  }
  std::function<void(bool)> onHover;
  std::function<void()> onChosen;
  bool marked = false;

 protected:
  void paintEvent(QPaintEvent*) override {
    const Theme& t = theme();
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const bool strong = marked || hasFocus();
    QColor edge = meant_                                    ? t.line
                  : severity_ == Severity::danger || strong ? t.severity(severity_)
                                                            : t.line;
    p.setPen(QPen(edge, strong ? 2 : 1.4));
    p.setBrush(t.card);
    p.drawRoundedRect(QRectF(rect()).adjusted(1, 1, -1, -1), 8, 8);
    p.setOpacity(meant_ ? 0.4 : 1);
    paintMark(p, QPointF(22, 25), severity_, index_ + 1, 18);
  }
  void enterEvent(QEnterEvent*) override {
    if (onHover) onHover(true);
  }
  void leaveEvent(QEvent*) override {
    if (onHover) onHover(false);
  }
  void mousePressEvent(QMouseEvent*) override {
    setFocus();
    if (onChosen) onChosen();
  }
  void keyPressEvent(QKeyEvent* e) override {
    const bool go =
        e->key() == Qt::Key_Return || e->key() == Qt::Key_Enter || e->key() == Qt::Key_Space;
    if (go && onChosen) return onChosen();
    QWidget::keyPressEvent(e);
  }
  void focusInEvent(QFocusEvent*) override {
    if (onHover) onHover(true);
    update();
  }
  void focusOutEvent(QFocusEvent*) override { update(); }

 private:
  int index_;
  Severity severity_;
  bool meant_;
};

}  // namespace

FindingsPane::FindingsPane(Document& document, QWidget* parent) : QWidget(parent), doc_(document) {
  setObjectName(QStringLiteral("pane"));
  setAttribute(Qt::WA_StyledBackground);
  setAccessibleName(tr("Findings"));
  setMinimumWidth(320);
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 14, 0, 10);
  column->setSpacing(4);
  head_ = new QLabel(this);
  head_->setObjectName(QStringLiteral("findingsHead"));
  head_->setContentsMargins(22, 0, 16, 0);
  head_->setWordWrap(true);
  under_ = new QLabel(this);
  under_->setContentsMargins(22, 0, 16, 4);
  under_->setWordWrap(true);
  column->addWidget(head_);
  column->addWidget(under_);
  auto* scroll = new QScrollArea(this);
  scroll->setWidgetResizable(true);
  scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  scroll->viewport()->setAutoFillBackground(false);
  inner_ = new QWidget(scroll);
  list_ = new QVBoxLayout(inner_);
  list_->setContentsMargins(16, 4, 16, 4);
  list_->setSpacing(12);
  list_->addStretch();
  scroll->setWidget(inner_);
  inner_->setAutoFillBackground(false);
  column->addWidget(scroll, 1);
  foot_ = new QLabel(this);
  foot_->setContentsMargins(22, 2, 16, 0);
  foot_->setWordWrap(true);
  column->addWidget(foot_);
  auto* lazy = new WhenShown(this, [this] { rebuild(); });
  connect(&doc_, &Document::checked, lazy, &WhenShown::ask);
  rebuild();
}

void FindingsPane::rebuild() {
  const Theme& t = theme();
  const CheckResult& check = doc_.check();
  int danger = 0, warning = 0, note = 0;
  bool shorted = false;
  QString now;
  for (const Finding& f : check.findings) {
    now += str(f.rule + f.title + f.reason) + (f.meant ? QStringLiteral("m") : QString());
    for (const Remedy& r : f.remedies) now += str(r.title);
    if (f.meant) continue;
    (f.severity == Severity::danger ? danger : f.severity == Severity::warning ? warning : note)++;
    shorted = shorted || f.rule == "short-circuit";
  }
  QStringList parts;
  if (danger) parts << tr("%1 would break").arg(danger);
  if (warning) parts << tr("%1 won’t work").arg(warning);
  if (note) parts << tr("%1 good to know").arg(note);
  head_->setText(parts.isEmpty() ? tr("All clear") : parts.join(QStringLiteral(", ")));
  head_->setStyleSheet(QStringLiteral("font-size: 16px; font-weight: 700; color: %1;")
                           .arg((parts.isEmpty() ? t.good : t.ink).name()));
  const QString poses =
      check.poses < 1e6 ? QString::number(check.poses, 'f', 0) : tr("more than a million");
  under_->setText(
      check.sampled
          ? tr("Solved for a choice of the %1 combinations of buttons, knobs and pins").arg(poses)
      : check.poses > 1.5
          ? tr("Solved for all %1 combinations of buttons, knobs and pins").arg(poses)
          : tr("Solved as it stands"));
  under_->setStyleSheet(QStringLiteral("font-size: 13px; color: %1;").arg(t.ink2.name()));
  QString foot = tr("There is a short circuit");
  bool over = shorted || !check.unsolved.empty();
  if (!shorted) {
    QStringList sums{tr("No short circuit")};
    for (std::size_t b = 0; b < check.totals.size(); ++b) {
      const BoardKind* kind = catalogue().boardKind(doc_.project().boards[b].type);
      const BoardTotal& total = check.totals[b];
      if (!kind) continue;
      over = over || total.chipAmps > kind->chipMostAmps || total.supplyAmps > kind->usbMostAmps;
      const auto of = [](double amps, double most) {
        return tr("%1 of %2 mA").arg(amps * 1000, 0, 'f', 0).arg(most * 1000, 0, 'f', 0);
      };
      sums << tr("all pins %1").arg(of(total.chipAmps, kind->chipMostAmps));
      sums << tr("5 V %1").arg(of(total.supplyAmps, kind->usbMostAmps));
    }
    foot = sums.join(QStringLiteral(" · "));
  }
  if (!check.unsolved.empty())
    foot = tr("The circuit around %1 could not be solved.").arg(str(check.unsolved.front()));
  foot_->setText(foot);
  foot_->setStyleSheet(QStringLiteral("font-weight: 600; font-size: 13px; color: %1;")
                           .arg((over ? t.danger : t.good).name()));
  // The list stays as it is while nothing in it changes.
  if (now == shown_ && !now.isEmpty()) return;
  shown_ = now;
  while (list_->count() > 1) {
    QLayoutItem* item = list_->takeAt(0);
    if (item->widget()) {
      item->widget()->hide();
      item->widget()->deleteLater();
    }
    delete item;
  }
  for (std::size_t i = 0; i < check.findings.size(); ++i) {
    const Finding& f = check.findings[i];
    const int index = static_cast<int>(i);
    auto* card = new FindingCard(index, f, inner_);
    card->onHover = [this, index](bool on) { Q_EMIT hovered(on ? index : -1); };
    card->onChosen = [this, index] { Q_EMIT chosen(index); };
    auto* column = new QVBoxLayout(card);
    column->setContentsMargins(42, 14, 14, 14);
    column->setSpacing(8);
    auto* top = new QHBoxLayout;
    auto* title = new QLabel(str(f.title), card);
    title->setWordWrap(true);
    title->setStyleSheet(QStringLiteral("font-size: 14px; font-weight: 650; color: %1;")
                             .arg((f.meant ? t.ink2 : t.ink).name()));
    top->addWidget(title, 1);
    auto* severity =
        new QLabel(f.meant ? tr("Meant so") : QString::fromUtf8(severityTitle(f.severity)), card);
    severity->setStyleSheet(QStringLiteral("font-size: 11.5px; font-weight: 700; color: %1;")
                                .arg((f.meant ? t.ink2 : t.severity(f.severity)).name()));
    top->addWidget(severity, 0, Qt::AlignTop);
    column->addLayout(top);
    auto* reason = new QLabel(str(f.reason), card);
    reason->setWordWrap(true);
    reason->setStyleSheet(QStringLiteral("font-size: 13px; color: %1;").arg(t.ink2.name()));
    column->addWidget(reason);
    // All in one row where there is but one remedy and room for it.
    int wanted = 0;
    for (const Remedy& remedy : f.remedies)
      wanted += QFontMetrics(t.text(13, QFont::DemiBold)).horizontalAdvance(str(remedy.title)) + 44;
    const int room = width() - roomAround;
    const bool oneRow = f.remedies.size() == 1 && !narrow_ && wanted + roomForMore <= room;
    auto* row = new QBoxLayout(wanted > room ? QBoxLayout::TopToBottom : QBoxLayout::LeftToRight);
    row->setSpacing(8);
    for (std::size_t r = 0; r < f.remedies.size() && !f.meant; ++r) {
      auto* b = new QPushButton(str(f.remedies[r].title), card);
      b->setObjectName(QStringLiteral("remedy%1-%2").arg(index).arg(r));
      if (r == 0) b->setProperty("primary", true);
      const std::string name = f.remedies[r].title;
      const Project after = f.remedies[r].after;
      connect(b, &QPushButton::clicked, this, [this, name, after] {
        Q_EMIT hovered(-1);
        doc_.edit(str(name).toLower(), after);
      });
      row->addWidget(b, 0, Qt::AlignLeft);
    }
    auto* more = new QHBoxLayout;
    if (!f.remedies.empty() && !f.meant) {
      auto* see = new QPushButton(tr("Show me"), card);
      see->setObjectName(QStringLiteral("showMe%1").arg(index));
      see->setProperty("flat", true);
      see->setCheckable(true);
      connect(see, &QPushButton::toggled, this,
              [this, index](bool on) { Q_EMIT previewWanted(index, on ? 0 : -1); });
      (oneRow ? static_cast<QBoxLayout*>(row) : more)->addWidget(see);
    }
    row->addStretch();
    more->addStretch();
    auto* meant = new QPushButton(f.meant ? tr("Check it again") : tr("It is meant so"), card);
    meant->setObjectName(QStringLiteral("meant%1").arg(index));
    meant->setProperty("flat", true);
    Meant m{f.rule, f.parts};
    m.culprits.insert(m.culprits.end(), f.pins.begin(), f.pins.end());
    std::sort(m.culprits.begin(), m.culprits.end());
    const bool was = f.meant;
    connect(meant, &QPushButton::clicked, this, [this, m, was] {
      Project p = doc_.project();
      std::erase(p.meant, m);
      if (!was) p.meant.push_back(m);
      doc_.edit(was ? tr("check a finding again") : tr("mean it so"), std::move(p));
    });
    (oneRow && !f.meant ? static_cast<QBoxLayout*>(row) : more)->addWidget(meant);
    if (!f.remedies.empty() && !f.meant)
      column->addLayout(row);
    else
      delete row;
    if (more->count() > 1)
      column->addLayout(more);
    else
      delete more;
    list_->insertWidget(index, card);
  }
}

// Remedies stand below each other where there is no room beside each other.
void FindingsPane::resizeEvent(QResizeEvent*) {
  const bool narrow = width() < 460;
  if (narrow == narrow_) return;
  narrow_ = narrow;
  shown_.clear();
  rebuild();
}

void FindingsPane::showFinding(int index) {
  for (int i = 0; i < list_->count(); ++i)
    if (auto* card = dynamic_cast<FindingCard*>(list_->itemAt(i)->widget())) {
      card->marked = i == index;
      card->update();
      if (i == index) card->setFocus();
    }
}

ReadingsPane::ReadingsPane(Document& document, QWidget* parent) : QWidget(parent), doc_(document) {
  setObjectName(QStringLiteral("readings"));
  setAccessibleName(tr("Worst reading of each part"));
  connect(&doc_, &Document::checked, this, [this] {
    setMinimumHeight(70 + 23 * static_cast<int>(doc_.check().readings.size()));
    update();
  });
}

void ReadingsPane::paintEvent(QPaintEvent*) {
  const Theme& t = theme();
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.fillRect(rect(), t.card);
  const double w = width();
  const double columns[] = {20, w * 0.165, w * 0.33, w * 0.41, w * 0.50, w * 0.79};
  p.setFont(t.text(14, QFont::Bold));
  p.setPen(t.ink);
  p.drawText(QRectF(20, 10, 400, 20), Qt::AlignVCenter, tr("Worst reading of each part"));
  const QString heads[] = {
      tr("Part"), tr("When"), tr("Voltage"), tr("Current"), tr("Share of its limit"), tr("Heat")};
  p.setFont(t.text(11.5, QFont::DemiBold));
  p.setPen(t.ink2);
  for (int i = 0; i < 6; ++i)
    p.drawText(QRectF(columns[i], 34, 160, 18), Qt::AlignVCenter, heads[i]);
  if (doc_.check().readings.empty()) {
    p.setFont(t.text(13));
    p.drawText(QRectF(20, 58, w - 40, 22), Qt::AlignVCenter,
               tr("Nothing is wired yet. Readings of every part and pin will stand here."));
    return;
  }
  double y = 55;
  for (std::size_t i = 0; i < doc_.check().readings.size(); ++i, y += 23) {
    const WorstReading& r = doc_.check().readings[i];
    if (i % 2 == 0) {
      p.setPen(Qt::NoPen);
      p.setBrush(t.field);
      p.drawRoundedRect(QRectF(12, y, w - 24, 22), 5, 5);
    }
    QStringList when;
    for (const auto& [id, how] : r.pose) {
      const Part* part = doc_.project().part(id);
      if (how == "high") when << tr("%1 high").arg(str(id));
      if (how == "pressed") when << tr("%1 held").arg(part ? str(part->name) : str(id));
      // A switch that stands otherwise than it was left, a knob that is turned.
      if (part && how != "pressed" && how != "released")
        when << tr("%1 at %2").arg(str(part->name), str(how));
    }
    const auto cell = [&](int column, const QString& text, bool right = false) {
      const QRectF box(columns[column], y,
                       (column < 5 ? columns[column + 1] : w - 20) - columns[column] - 12, 22);
      p.drawText(box, Qt::AlignVCenter | (right ? Qt::AlignRight : Qt::AlignLeft),
                 p.fontMetrics().elidedText(text, Qt::ElideRight, static_cast<int>(box.width())));
    };
    p.setFont(t.text(12.5, QFont::DemiBold));
    p.setPen(t.ink);
    cell(0, str(r.name));
    p.setFont(t.text(12.5));
    p.setPen(t.ink2);
    cell(1, when.isEmpty() ? tr("always") : when.join(QStringLiteral(", ")));
    p.setFont(t.mono(12.5));
    p.setPen(t.ink);
    cell(2, QString::number(std::abs(r.volts) < 0.005 ? 0.0 : r.volts, 'f', 2) + tr(" V"), true);
    cell(3, QString::number(std::abs(r.amps) * 1000, 'f', 1) + tr(" mA"), true);
    if (!r.limit.empty()) {
      const QRectF bar(columns[4], y + 7, w * 0.265, 8);
      p.setPen(Qt::NoPen);
      p.setBrush(t.line);
      p.drawRoundedRect(bar, 4, 4);
      const double share = std::clamp(r.share, 0.0, 1.0);
      p.setBrush(r.share > 1.5 ? t.danger : r.share > 1 ? t.warning : t.good);
      if (share > 0.005)
        p.drawRoundedRect(QRectF(bar.left(), bar.top(), std::max(6.0, bar.width() * share), 8), 4,
                          4);
    }
    p.setPen(t.ink);
    const QRectF heat(columns[5] - 50, y, 120, 22);
    p.drawText(heat, Qt::AlignVCenter | Qt::AlignRight,
               (r.watts < -0.0005 ? tr("gives %1 mW") : tr("%1 mW"))
                   .arg(std::abs(r.watts) * 1000, 0, 'f', 0));
    if (!r.limit.empty()) {
      p.setPen(t.ink2);
      p.setFont(t.text(12));
      p.drawText(QRectF(columns[5] + 82, y, w - columns[5] - 100, 22), Qt::AlignVCenter,
                 tr("%1 % of %2").arg(r.share * 100, 0, 'f', 0).arg(str(r.limit)));
    }
  }
}

void ReadingsPane::mousePressEvent(QMouseEvent* e) {
  const int i = static_cast<int>((e->position().y() - 55) / 23);
  if (e->position().y() < 55 || i >= static_cast<int>(doc_.check().readings.size())) return;
  const WorstReading& r = doc_.check().readings[static_cast<std::size_t>(i)];
  if (!r.part.empty()) doc_.select({str(r.part)});
}

}  // namespace ignavo::app
