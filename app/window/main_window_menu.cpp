#include <QActionGroup>
#include <QFile>
#include <QMenu>
#include <QPainter>
#include <QPrinter>
#include <QShortcut>
#include <QSvgGenerator>

#include "bench/bench_picture.h"
#include "bench/scene.h"
#include "demos.h"
#include "theme/motion.h"
#include "theme/plain_words.h"
#include "theme/text.h"
#include "theme/theme.h"
#include "theme/typed_menu.h"
#include "window/main_window.h"

// The menu, the keys, and what they begin that is no pane's business.
namespace ignavo::app {

void MainWindow::buildMenu() {
  auto* menu = new QMenu(this);
  menu->setObjectName(QStringLiteral("mainMenu"));
  menu->addAction(tr("New"), QKeySequence::New, this, [this] {
    if (mayLeave()) newProject();
  });
  menu->addAction(tr("Open…"), QKeySequence::Open, this, [this] {
    if (!mayLeave()) return;
    if (const QString path = dialogs_.openFile(this, tr("Open a project"), fileFilter());
        !path.isEmpty())
      openPath(path);
  });
  auto* examples = menu->addMenu(tr("Open a ferry example"));
  // Their titles are in the files: read when somebody looks.
  connect(examples, &QMenu::aboutToShow, this, [this, examples] {
    if (!examples->isEmpty()) return;
    for (const Demo& d : demos())
      examples->addAction(str(readProject(d.text).project.title), this, [this, name = str(d.name)] {
        if (mayLeave()) openDemo(name);
      });
  });
  menu->addSeparator();
  menu->addAction(tr("Save"), QKeySequence::Save, this, [this] { save(false); });
  menu->addAction(tr("Save as…"), QKeySequence(tr("Ctrl+Shift+S")), this, [this] { save(true); });
  menu->addSeparator();
  undoAction_ = menu->addAction(tr("Undo"), QKeySequence::Undo, &doc_, &Document::undo);
  redoAction_ =
      menu->addAction(tr("Redo"), QKeySequence(tr("Ctrl+Shift+Z")), &doc_, &Document::redo);
  menu->addAction(tr("Duplicate"), QKeySequence(tr("Ctrl+D")), this,
                  [this] { bench_->duplicateSelected(); });
  menu->addAction(tr("Select everything on the bench"), this, [this] { bench_->selectAll(); });
  menu->addAction(tr("Tidy all wires"), this, [this] {
    doc_.select({});
    bench_->tidySelected();
  });
  menu->addAction(tr("Type a line…"), QKeySequence(tr("Ctrl+K")), this,
                  [this] { typeLine_->open(); });
  menu->addSeparator();
  menu->addAction(tr("Picture of the bench…"), this, [this] { exportPicture(); });
  menu->addAction(tr("Print the bench…"), this, [this] { printBench(); });
  menu->addSeparator();
  surviveAction_ = menu->addAction(tr("Parts survive"), this, [this](bool on) {
    doc_.edit(on ? tr("let parts survive") : tr("let parts break"),
              edits::setPartsSurvive(doc_.project(), on));
    say(on ? tr("In this project nothing breaks any more. The check still says what would.")
           : tr("Parts break again when they get too much."));
  });
  surviveAction_->setObjectName(QStringLiteral("partsSurvive"));
  surviveAction_->setCheckable(true);
  menu->addAction(tr("Meter\tE"), this, [this] { bench_->toggleMeter(); });
  guessAction_ = menu->addAction(tr("Guess first"), this, [this](bool on) {
    if (on) setStation(Station::run);
    running_->guess->setWanted(on);
  });
  guessAction_->setObjectName(QStringLiteral("guessFirst"));
  guessAction_->setCheckable(true);
  menu->addAction(tr("Fit the bench\t0"), this, [this] { bench_->fit(); });
  nightAction_ = menu->addAction(tr("Night bench"), this, [this](bool on) {
    nightChosen_ = true;
    setNight(on);
  });
  nightAction_->setCheckable(true);
  nightAction_->setChecked(theme().dark);
  soundAction_ = menu->addAction(tr("Sound"), QKeySequence(tr("Ctrl+M")), this,
                                 [this](bool on) { sound_.setMuted(!on); });
  soundAction_->setObjectName(QStringLiteral("soundOn"));
  soundAction_->setCheckable(true);
  QMenu* loud = menu->addMenu(tr("Loudness"));
  loud->setObjectName(QStringLiteral("loudness"));
  auto* louds = new QActionGroup(this);
  for (const int percent : {25, 50, 75, 100}) {
    QAction* a = loud->addAction(tr("%1 %").arg(percent), this,
                                 [this, percent] { sound_.setVolume(percent / 100.0); });
    a->setCheckable(true);
    a->setData(percent);
    louds->addAction(a);
  }
  const auto soundChanged = [this, loud] {
    soundAction_->setEnabled(sound_.hasDevice());
    soundAction_->setChecked(!sound_.isMuted());
    loud->setEnabled(sound_.hasDevice());
    for (QAction* a : loud->actions())
      a->setChecked(std::lround(sound_.volume() * 100) == a->data().toInt());
    bench_->setHearing(sound_.hasDevice(), sound_.isMuted());
  };
  connect(&sound_, &Sound::changed, this, soundChanged);
  connect(bench_, &BenchView::hearWanted, this, [this](bool hear) { sound_.setMuted(!hear); });
  connect(bench_, &BenchView::closerLookWanted, this, &MainWindow::lookCloser);
  soundChanged();
  flowAction_ =
      menu->addAction(tr("Dashes of current"), this, [this](bool on) { bench_->setFlowShown(on); });
  flowAction_->setObjectName(QStringLiteral("dashes"));
  flowAction_->setCheckable(true);
  calmAction_ = menu->addAction(tr("Calm lamps"), this, [this](bool on) {
    bench_->setCalmLamps(on);
    if (on) say(tr("Lamps that flash more than three times a second are shown steady."));
  });
  calmAction_->setObjectName(QStringLiteral("calmLamps"));
  calmAction_->setCheckable(true);
  const bool little = desktopWantsLittleMotion();
  flowAction_->setChecked(!little);
  calmAction_->setChecked(little);
  bench_->setFlowShown(!little);
  bench_->setCalmLamps(little);
  menu->addAction(tr("Full screen"), QKeySequence(Qt::Key_F11), this, [this] {
    if (isFullScreen()) return showNormal();
    showFullScreen();
    if (!projectorAction_->isChecked())
      say(
          tr("F11 leaves the full screen. For a projector, “Projector size” in the "
             "menu makes everything half as large again."));
  });
  projectorAction_ = menu->addAction(tr("Projector size"), this, [this](bool on) {
    if (settings_) {
      settings_->setValue(projectorKey(), on);
      settings_->sync();
    }
    say(on ? tr("From the next start on everything is half as large again.")
           : tr("From the next start on everything is as large as usual."));
  });
  projectorAction_->setObjectName(QStringLiteral("projector"));
  projectorAction_->setCheckable(true);
  menu->addSeparator();
  menu->addAction(tr("Quit"), QKeySequence::Quit, this, &QWidget::close);
  // Shortcuts of the menu work anywhere in the window.
  for (QAction* a : menu->actions()) {
    if (a->text().startsWith(tr("Duplicate"))) a->setShortcutContext(Qt::WidgetShortcut);
    addAction(a);
  }
  bar_->menu->setMenu(menu);
  bar_->menu->setPopupMode(QToolButton::InstantPopup);

  auto* speeds = new QMenu(this);
  auto* group = new QActionGroup(this);
  for (const auto& [label, factor] :
       std::initializer_list<std::pair<const char*, double>>{{"1/1000×", 0.001},
                                                             {"1/100×", 0.01},
                                                             {"1/10×", 0.1},
                                                             {"1×", 1},
                                                             {"2×", 2},
                                                             {"10×", 10},
                                                             {"100×", 100}}) {
    QAction* a = speeds->addAction(QString::fromUtf8(label));
    a->setCheckable(true);
    a->setChecked(factor == 1);
    group->addAction(a);
    connect(a, &QAction::triggered, this, [this, factor = factor] { run_.setSpeed(factor); });
    connect(&run_, &RunControl::stateChanged, a,
            [this, a, factor = factor] { a->setChecked(run_.speed() == factor); });
  }
  speeds->addSeparator();
  speeds->addAction(tr("One step further\t."), this, [this] { run_.stepOnce(); });
  speeds->addAction(tr("The same presses again\tShift+T"), this, &MainWindow::runAgain);
  speeds->setObjectName(QStringLiteral("speedMenu"));
  connect(speeds, &QMenu::aboutToShow, this, [this, speeds] { offerRecordings(speeds); });
  bar_->speed->setMenu(speeds);
}

void MainWindow::buildShortcuts() {
  const Station stations[] = {Station::wire, Station::check, Station::program, Station::run,
                              Station::build};
  for (int i = 0; i < stationCount; ++i)
    connect(new QShortcut(QKeySequence(Qt::ALT | static_cast<Qt::Key>(Qt::Key_1 + i)), this),
            &QShortcut::activated, this, [this, s = stations[i]] { setStation(s); });
  addRunKeys(bench_);
  const auto onBench = [this](const QKeySequence& keys, const std::function<void()>& what) {
    auto* s = new QShortcut(keys, bench_);
    s->setContext(Qt::WidgetShortcut);
    connect(s, &QShortcut::activated, this, what);
  };
  onBench(QKeySequence(tr("Ctrl+D")), [this] { bench_->duplicateSelected(); });
  onBench(QKeySequence::SelectAll, [this] { bench_->selectAll(); });
  onBench(QKeySequence::Copy, [this] { bench_->copySelected(); });
  onBench(QKeySequence::Cut, [this] { bench_->cutSelected(); });
  onBench(QKeySequence::Paste, [this] { bench_->paste(); });
  connect(new QShortcut(QKeySequence(tr("Ctrl+Space")), this), &QShortcut::activated, this,
          [this] { run_.setPaused(!run_.isPaused()); });
  connect(new QShortcut(QKeySequence(tr("Ctrl+P")), this), &QShortcut::activated, this,
          [this] { togglePower(); });
  // From everywhere, also while typing.
  connect(new QShortcut(QKeySequence(Qt::Key_F5), this), &QShortcut::activated, this,
          [this] { togglePower(); });
  connect(new QShortcut(QKeySequence(tr("Shift+F5")), this), &QShortcut::activated, this,
          [this] { resetRun(); });
  connect(new QShortcut(QKeySequence(Qt::Key_F6), this), &QShortcut::activated, this,
          [this] { cyclePanes(1); });
  connect(new QShortcut(QKeySequence(tr("Shift+F6")), this), &QShortcut::activated, this,
          [this] { cyclePanes(-1); });
}

// Also while something on that pane has the focus, as a probe of the meter on the bench.
void MainWindow::addRunKeys(QWidget* pane) {
  const auto add = [&](const QKeySequence& keys, const std::function<void()>& what) {
    auto* s = new QShortcut(keys, pane);
    s->setContext(Qt::WidgetWithChildrenShortcut);
    connect(s, &QShortcut::activated, this, what);
  };
  add(Qt::Key_P, [this] { togglePower(); });
  add(Qt::Key_T, [this] { resetRun(); });
  add(QKeySequence(tr("Shift+T")), [this] { runAgain(); });
  add(Qt::Key_Period, [this] { run_.stepOnce(); });
}

// A small circuit asks for its pin; what it would place is shown while choosing.
void MainWindow::choosePin(const std::string& id) {
  const SmallCircuit* circuit = smallCircuit(id);
  if (!circuit) return;
  auto* menu = new TypedMenu(this);
  menu->setObjectName(QStringLiteral("pinMenu"));
  menu->setAttribute(Qt::WA_DeleteOnClose);
  menu->setAccessibleName(tr("Pin for: %1").arg(str(circuit->label)));
  const bool several = doc_.project().boards.size() > 1;
  QAction* first = nullptr;
  for (const PinChoice& choice : pinsFor(doc_.project(), *circuit)) {
    const QString pin =
        (several ? str(choice.board) + QLatin1Char('.') : QString()) + str(choice.pin);
    const QString hangs = doc_.pinLabel(choice.board, choice.pin);
    QAction* a =
        menu->addAction(literal(hangs.isEmpty() ? pin : pin + QStringLiteral("  ·  ") + hangs));
    a->setEnabled(choice.free);
    if (!choice.free) continue;
    if (!first) first = a;
    connect(a, &QAction::hovered, this, [this, circuit, choice] {
      const Composed made = compose(doc_.project(), *circuit, choice.board, choice.pin);
      bench_->preview(made.problem.empty() ? &made.project : nullptr);
    });
    connect(a, &QAction::triggered, this, [this, circuit, choice] {
      Composed made = compose(doc_.project(), *circuit, choice.board, choice.pin);
      bench_->preview(nullptr);
      if (!made.problem.empty()) return say(str(made.problem) + QLatin1Char('.'), true);
      QStringList parts;
      for (const std::string& part : made.ids)
        if (made.project.part(part)) parts << str(part);
      doc_.edit(tr("place %1 on %2").arg(str(circuit->noun), str(choice.pin)),
                std::move(made.project));
      doc_.select(parts);
      bench_->setFocus();
    });
  }
  if (!first) {
    menu->addAction(tr("No free pin is left"))->setEnabled(false);
  } else {
    menu->setActiveAction(first);
  }
  connect(menu, &QMenu::aboutToHide, this, [this] { bench_->preview(nullptr); });
  CabinetCard* card = cabinet_->card(id);
  const QPoint at = card ? card->mapToGlobal(QPoint(0, 0)) : bench_->mapToGlobal(QPoint(40, 40));
  // Above the card, for the cabinet lies at the lower edge.
  menu->popup(at - QPoint(0, menu->sizeHint().height()), first);
}

QString MainWindow::suggestedName(const QString& ending) const {
  QString name = str(doc_.project().title).toLower().replace(QLatin1Char(' '), QLatin1Char('-'));
  name.remove(QLatin1Char('/'));
  return name + ending;
}

// As SVG, or as PNG at twice its size on the screen.
void MainWindow::exportPicture() {
  const QString path =
      dialogs_.saveFile(this, tr("Picture of the bench"), suggestedName(QStringLiteral(".svg")),
                        QStringLiteral("SVG (*.svg);;PNG (*.png)"));
  if (path.isEmpty()) return;
  if (!writeBenchPicture(doc_.project(), path))
    say(tr("“%1” cannot be written.").arg(path), true);
  else
    say(tr("The picture is in “%1”.").arg(path));
}

void MainWindow::printBench() {
  QPrinter printer(QPrinter::HighResolution);
  printer.setDocName(str(doc_.project().title));
  if (!dialogs_.choosePrinter(this, printer)) return;
  QPainter p;
  if (!p.begin(&printer)) return say(tr("The printer cannot be used."), true);
  const QRectF box = benchBounds(doc_.project());
  const QRectF page = printer.pageLayout().paintRectPixels(printer.resolution());
  const double scale =
      std::min(page.width() / box.width(), (page.height() - page.height() * 0.05) / box.height());
  p.setFont(theme().text(page.height() * 0.02, QFont::Bold));
  p.drawText(QRectF(0, 0, page.width(), page.height() * 0.04), Qt::AlignLeft | Qt::AlignVCenter,
             str(doc_.project().title));
  p.translate(0, page.height() * 0.05);
  p.scale(scale, scale);
  p.translate(-box.topLeft());
  paintBench(p, doc_.project());
  p.end();
}

}  // namespace ignavo::app
