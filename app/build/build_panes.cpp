#include "build/build_panes.h"

#include <QCheckBox>
#include <QHBoxLayout>
#include <QPainter>
#include <QSaveFile>
#include <QScrollArea>
#include <cmath>

#include "art/art.h"
#include "document/board_chooser.h"
#include "document/when_shown.h"
#include "make/c_text.h"
#include "project/edits.h"
#include "theme/text.h"
#include "theme/theme.h"

namespace ignavo::app {

namespace {

QLabel* head(const QString& text, QWidget* parent, int px = 15) {
  auto* l = new QLabel(text, parent);
  l->setStyleSheet(QStringLiteral("font-size: %1px; font-weight: 700;").arg(px));
  return l;
}
QLabel* second(const QString& text, QWidget* parent) {
  auto* l = new QLabel(text, parent);
  l->setWordWrap(true);
  l->setProperty("second", true);
  return l;
}

// A step to be done: the whole row can be clicked.
class StepRow : public QWidget {
 public:
  StepRow(const SheetStep& step, bool done, bool next, QWidget* parent)
      : QWidget(parent), next_(next) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(8, 3, 8, 3);
    box = new QCheckBox(this);
    box->setObjectName(QStringLiteral("tick-") + str(step.tick));
    box->setAccessibleName(str(step.text));
    box->setChecked(done);
    box->setToolTip(str(step.hint));
    row->addWidget(box, 0, Qt::AlignTop);
    auto* text = new QLabel(str(step.text), this);
    text->setWordWrap(true);
    text->setToolTip(str(step.hint));
    text->setStyleSheet(QStringLiteral("font-size: 13px; color: %1; font-weight: %2;")
                            .arg((done ? theme().ink2 : theme().ink).name())
                            .arg(next ? 650 : 400));
    row->addWidget(text, 1);
  }
  QCheckBox* box;
  std::function<void()> onHover;

 protected:
  void paintEvent(QPaintEvent*) override {
    if (!next_) return;
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(QPen(theme().amber, 1.6));
    p.setBrush(theme().amberWash);
    p.drawRoundedRect(QRectF(rect()).adjusted(1, 1, -1, -1), 5, 5);
  }
  void enterEvent(QEnterEvent*) override {
    if (onHover) onHover();
  }
  void mousePressEvent(QMouseEvent*) override { box->click(); }

 private:
  bool next_;
};

// A resistor with its bands, small.
class ResistorBands : public QWidget {
 public:
  ResistorBands(double ohms, QWidget* parent) : QWidget(parent) {
    part_.type = "resistor";
    part_.setProp("ohms", ohms);
    setFixedSize(76, 20);
    QStringList names;
    for (const std::string& b : bandsOf(ohms)) names << str(b);
    setToolTip(names.join(QStringLiteral(", ")));
    setAccessibleName(names.join(QStringLiteral(", ")));
  }

 protected:
  void paintEvent(QPaintEvent*) override {
    QPainter p(this);
    PartLook look;
    look.legs = {QPointF(2, 10), QPointF(74, 10)};
    paintResistor(p, part_, look);
  }

 private:
  Part part_;
};

QScrollArea* scrolled(QWidget* inner, QWidget* parent) {
  auto* scroll = new QScrollArea(parent);
  scroll->setWidgetResizable(true);
  scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  scroll->viewport()->setAutoFillBackground(false);
  scroll->setWidget(inner);
  inner->setAutoFillBackground(false);
  return scroll;
}

}  // namespace

StepsPane::StepsPane(Document& document, QWidget* parent) : QWidget(parent), doc_(document) {
  setObjectName(QStringLiteral("cardPane"));
  setAttribute(Qt::WA_StyledBackground);
  setAccessibleName(tr("Build steps"));
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(20, 14, 12, 8);
  column->setSpacing(6);
  column->addWidget(head(tr("Build it for real"), this));
  under_ = second({}, this);
  under_->setObjectName(QStringLiteral("buildProgress"));
  column->addWidget(under_);
  bar_ = new QProgressBar(this);
  bar_->setTextVisible(false);
  column->addWidget(bar_);
  inner_ = new QWidget(this);
  list_ = new QVBoxLayout(inner_);
  list_->setContentsMargins(0, 6, 6, 6);
  list_->setSpacing(1);
  column->addWidget(scrolled(inner_, this), 1);
  setMinimumWidth(270);
  auto* lazy = new WhenShown(this, [this] { rebuild(); });
  connect(&doc_, &Document::changed, lazy, &WhenShown::ask);
  lazy->ask();
}

void StepsPane::rebuild() {
  while (QLayoutItem* item = list_->takeAt(0)) {
    if (item->widget()) {
      item->widget()->hide();
      item->widget()->deleteLater();
    }
    delete item;
  }
  const BuildSheet sheet = buildSheet(doc_.project());
  const int total = sheet.stepCount(), done = sheet.doneCount(doc_.project());
  under_->setText(total == 0 ? tr("Nothing is wired yet: there is nothing to build.")
                  : done == total
                      ? tr("All %1 steps are done").arg(total)
                      : tr("Step %1 of %2 · power comes last").arg(done + 1).arg(total));
  bar_->setRange(0, std::max(1, total));
  bar_->setValue(done);
  const auto& ticks = doc_.project().ticks;
  bool nextFound = false;
  QString nextId;
  for (const SheetGroup& g : sheet.groups) {
    auto* title = head(str(g.title), inner_, 13);
    title->setContentsMargins(0, 8, 0, 2);
    list_->addWidget(title);
    for (const SheetStep& s : g.steps) {
      const bool ticked = std::find(ticks.begin(), ticks.end(), s.tick) != ticks.end();
      const bool next = !ticked && !nextFound;
      if (next) {
        nextFound = true;
        nextId = str(s.id);
      }
      auto* row = new StepRow(s, ticked, next, inner_);
      const std::string tick = s.tick;
      const QString text = str(s.text);
      connect(row->box, &QCheckBox::clicked, this, [this, tick, text](bool on) {
        doc_.edit(on ? tr("tick “%1”").arg(text) : tr("untick “%1”").arg(text),
                  edits::setTick(doc_.project(), tick, on));
      });
      row->onHover = [this, id = str(s.id)] { Q_EMIT focused(id); };
      list_->addWidget(row);
    }
  }
  list_->addStretch();
  Q_EMIT focused(nextId);
}

NeedsPane::NeedsPane(Document& document, QWidget* parent) : QWidget(parent), doc_(document) {
  setObjectName(QStringLiteral("pane"));
  setAttribute(Qt::WA_StyledBackground);
  setAccessibleName(tr("What you need, and what a meter reads"));
  auto* outer = new QVBoxLayout(this);
  outer->setContentsMargins(0, 0, 0, 0);
  auto* inner = new QWidget(this);
  column_ = new QVBoxLayout(inner);
  column_->setContentsMargins(20, 14, 20, 10);
  outer->addWidget(scrolled(inner, this));
  setMinimumWidth(270);
  auto* lazy = new WhenShown(this, [this] { rebuild(); });
  connect(&doc_, &Document::changed, lazy, &WhenShown::ask);
  lazy->ask();
}

void NeedsPane::rebuild() {
  if (page_) {
    page_->hide();
    page_->deleteLater();
    column_->removeWidget(page_);
  }
  page_ = new QWidget(this);
  auto* list = new QVBoxLayout(page_);
  list->setContentsMargins(0, 0, 0, 0);
  list->setSpacing(7);
  const BuildSheet sheet = buildSheet(doc_.project());
  list->addWidget(head(tr("What you need"), page_));
  for (const SheetItem& item : sheet.items) {
    auto* row = new QWidget(page_);
    auto* h = new QHBoxLayout(row);
    h->setContentsMargins(0, 0, 0, 0);
    auto* count = new QLabel(QString::number(item.count), row);
    count->setFixedWidth(24);
    count->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
    count->setStyleSheet(QStringLiteral("font-weight: 700;"));
    h->addWidget(count);
    h->addWidget(new QLabel(str(item.name) + (item.count > 1 && item.name == "Jumper wire"
                                                  ? QStringLiteral("s")
                                                  : QString()),
                            row),
                 1);
    if (item.ohms > 0) h->addWidget(new ResistorBands(item.ohms, row));
    list->addWidget(row);
  }
  auto* line = new QWidget(page_);
  line->setFixedHeight(1);
  line->setStyleSheet(QStringLiteral("background: %1;").arg(theme().line.name()));
  list->addSpacing(6);
  list->addWidget(line);
  list->addSpacing(6);
  list->addWidget(head(tr("Prove it with a meter"), page_));
  if (sheet.readings.empty()) {
    list->addWidget(second(sheet.groundMissing
                               ? tr("No ground hole is free for the black probe.")
                               : tr("Readings stand here once a pin of the program is wired."),
                           page_));
  } else {
    std::string black;
    for (const MeterReading& r : sheet.readings) {
      if (r.black != black)
        list->addWidget(second(tr("black probe in %1, power on").arg(str(r.black)), page_));
      black = r.black;
      auto* row = new QWidget(page_);
      auto* h = new QHBoxLayout(row);
      h->setContentsMargins(0, 0, 0, 0);
      auto* where = new QLabel(
          r.when.empty() ? str(r.hole) : str(r.hole) + QStringLiteral("  ") + str(r.when), row);
      where->setWordWrap(true);
      h->addWidget(where, 1);
      auto* volts = new QLabel(QString::number(r.volts, 'f', 1) + tr(" V"), row);
      volts->setStyleSheet(QStringLiteral("font-family: 'JetBrains Mono'; font-weight: 600;"));
      h->addWidget(volts);
      list->addWidget(row);
    }
  }
  list->addStretch();
  column_->addWidget(page_);
}

FirmwarePane::FirmwarePane(Document& document, QWidget* parent) : QWidget(parent), doc_(document) {
  setObjectName(QStringLiteral("cardPane"));
  setAttribute(Qt::WA_StyledBackground);
  setAccessibleName(tr("Firmware"));
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(20, 12, 20, 12);
  column->setSpacing(8);
  auto* top = new QHBoxLayout;
  top->addWidget(head(tr("Make the firmware"), this));
  top->addSpacing(12);
  top->addWidget(new BoardChooser(doc_, this));
  top->addWidget(second(tr("The program, translated for the board’s chip: a HEX file."), this), 1);
  cancel_ = new QPushButton(tr("Cancel"), this);
  cancel_->setObjectName(QStringLiteral("cancelFirmware"));
  cancel_->hide();
  button_ = new QPushButton(tr("Make it"), this);
  button_->setObjectName(QStringLiteral("makeFirmware"));
  button_->setProperty("primary", true);
  save_ = new QPushButton(tr("Keep the HEX file…"), this);
  save_->setObjectName(QStringLiteral("saveFirmware"));
  save_->setEnabled(false);
  top->addWidget(cancel_);
  top->addWidget(button_);
  top->addWidget(save_);
  column->addLayout(top);
  auto* stages = new QHBoxLayout;
  stages->setSpacing(12);
  const QString names[] = {tr("Check"), tr("Compile")};
  for (int i = 0; i < 2; ++i) {
    auto* stage = new QVBoxLayout;
    stage->setSpacing(5);
    bars_[i] = new QProgressBar(this);
    bars_[i]->setTextVisible(false);
    bars_[i]->setRange(0, 100);
    stage->addWidget(bars_[i]);
    auto* row = new QHBoxLayout;
    auto* name = new QLabel(names[i], this);
    name->setStyleSheet(QStringLiteral("font-weight: 650;"));
    row->addWidget(name);
    row->addStretch();
    notes_[i] = second({}, this);
    notes_[i]->setWordWrap(false);
    row->addWidget(notes_[i]);
    stage->addLayout(row);
    stages->addLayout(stage, 1);
  }
  column->addLayout(stages);
  result_ = new QLabel(this);
  result_->setObjectName(QStringLiteral("firmwareResult"));
  result_->setWordWrap(true);
  column->addWidget(result_);
  log_ = new QPlainTextEdit(this);
  log_->setObjectName(QStringLiteral("firmwareLog"));
  log_->setReadOnly(true);
  log_->setFont(theme().mono(12));
  log_->setAccessibleName(tr("Log"));
  log_->setMinimumHeight(36);
  log_->setPlaceholderText(tr("What the compiler says stands here."));
  column->addWidget(log_, 1);
  connect(button_, &QPushButton::clicked, this, &FirmwarePane::make);
  connect(cancel_, &QPushButton::clicked, &maker_, &FirmwareMaker::cancel);
  connect(&maker_, &FirmwareMaker::line, log_, &QPlainTextEdit::appendPlainText);
  connect(&maker_, &FirmwareMaker::made, this, &FirmwarePane::done);
  connect(save_, &QPushButton::clicked, this, [this] {
    QString name = str(doc_.project().title).toLower().replace(QLatin1Char(' '), QLatin1Char('-'));
    name.remove(QLatin1Char('/'));
    const QString path = askWhere ? askWhere(name + QStringLiteral(".hex")) : QString();
    if (path.isEmpty()) return;
    QSaveFile file(path);
    if (file.open(QIODevice::WriteOnly) &&
        file.write(hex_.data(), static_cast<qint64>(hex_.size())) ==
            static_cast<qint64>(hex_.size()) &&
        file.commit())
      result_->setText(tr("Kept as %1").arg(path));
    else
      result_->setText(tr("%1 cannot be written: %2").arg(path, file.errorString()));
  });
  const auto compare = [this] {
    if ((isBusy() || !hex_.empty()) && textNow() != made_) outdated();
  };
  connect(&doc_, &Document::changed, this, compare);
  connect(&doc_, &Document::boardChosen, this, compare);
}

std::string FirmwarePane::boardId() const { return doc_.board(); }

// The firmware is what is made of this text, and nothing else.
std::string FirmwarePane::textNow() const { return cText(doc_.project(), boardId()).text; }

void FirmwarePane::outdated() {
  maker_.forget();
  hex_.clear();
  made_.clear();
  button_->setEnabled(true);
  cancel_->hide();
  save_->setEnabled(false);
  result_->setStyleSheet({});
  result_->setText(tr("The program has changed since: make it again."));
  for (int i = 0; i < 2; ++i) setStage(i, 0, {});
}

void FirmwarePane::setStage(int stage, int percent, const QString& note) {
  bars_[stage]->setValue(percent);
  notes_[stage]->setText(note);
}

void FirmwarePane::make() {
  if (isBusy()) return;
  button_->setEnabled(false);
  save_->setEnabled(false);
  cancel_->show();
  result_->clear();
  log_->clear();
  int dangers = 0;
  for (const Finding& f : doc_.check().findings)
    dangers += f.severity == Severity::danger && !f.meant ? 1 : 0;
  setStage(0, 100, dangers ? tr("%1 would break: see Check").arg(dangers) : tr("done"));
  setStage(1, 40, tr("compiling …"));
  made_ = textNow();
  maker_.make(doc_.shared(), {boardId()});
}

void FirmwarePane::done(const FirmwareMaker::Made& all) {
  const auto& [board, f] = all.front();
  button_->setEnabled(true);
  cancel_->hide();
  const bool good = f.code == Firmware::Code::done;
  setStage(1, good ? 100 : 0,
           good ? tr("%L1 of %L2 bytes").arg(f.flashBytes).arg(f.flashMost) : tr("stopped"));
  log_->setPlainText(good ? (f.messages.empty() ? tr("compiled for the 16 MHz chip, no warnings")
                                                : str(f.messages))
                          : str(sentence(f)) + QStringLiteral("\n") + str(f.messages));
  if (good || f.code == Firmware::Code::tooBig)
    doc_.setProgramSize(board, {f.flashBytes, f.ramBytes});
  hex_ = good ? f.hex : std::string();
  if (!good) made_.clear();
  save_->setEnabled(good);
  result_->setText(good ? tr("Ready: %1.").arg(str(sentence(f))) : str(sentence(f)));
  result_->setStyleSheet(QStringLiteral("font-weight: 600; color: %1;")
                             .arg((good ? theme().good : theme().danger).name()));
}

}  // namespace ignavo::app
