#include <QApplication>
#include <QCommandLineParser>
#include <QDir>
#include <QLibrary>
#include <QSettings>
#include <QStandardPaths>
#include <clocale>
#include <cstdio>

#include "bench/bench_picture.h"
#include "explain/output.h"
#include "format/input_language.h"
#include "rehearsal/rehearsal.h"
#include "theme/theme.h"
#include "window/main_window.h"

namespace {

using namespace ignavo::app;
using ignavo::Finding;
using ignavo::Project;

bool stationOf(const QString& name, Station& out) {
  const char* names[] = {"wire", "check", "program", "run", "build"};
  for (int i = 0; i < stationCount; ++i)
    if (name == QLatin1String(names[i])) {
      out = static_cast<Station>(i);
      return true;
    }
  return false;
}

// From beside the application; null where that is missing.
std::unique_ptr<SoundDevice> soundCard() {
  QLibrary library(QApplication::applicationDirPath() + QStringLiteral("/ignavo-sound"));
  using Make = SoundDevice* (*)();
  const auto make = reinterpret_cast<Make>(library.resolve("ignavoSoundCard"));
  return std::unique_ptr<SoundDevice>(make ? make() : nullptr);
}

int fail(const QString& sentence) {
  std::fprintf(stderr, "ignavo: %s\n", qPrintable(sentence));
  return 2;
}

// A line in the type-it line; at the Program station a step, added where it ends in a line break.
void type(MainWindow& window, const QString& text) {
  if (window.station() != Station::program || window.document().project().programs.empty())
    return window.typeLine()->open(text);
  window.program()->view()->beginStep(text);
}

// Renders the real window into a picture, without a monitor.
// `done`: "1.5 press btn1", by hand, on the way.
int shoot(MainWindow& window, const QString& file, double after, const QStringList& done,
          const QString& typed, const QString& asked) {
  std::vector<std::pair<double, ignavo::Input>> inputs;
  for (const QString& one : done) {
    const auto input =
        readInput(window.document().project(), one.section(QLatin1Char(' '), 1).toStdString());
    bool number = false;
    const double at = one.section(QLatin1Char(' '), 0, 0).toDouble(&number);
    if (!input || !number) return fail(QStringLiteral("“%1” cannot happen here").arg(one));
    inputs.emplace_back(at, *input);
  }

  window.runControl().setByHand(true);
  window.show();
  QApplication::processEvents();
  window.document().finishCheck();
  if (after >= 0) {
    window.togglePower();
    while (window.chipRun().isCompiling())
      QApplication::processEvents(QEventLoop::WaitForMoreEvents);
    // In frames, as the eye would have seen it.
    constexpr double frame = 0.02;
    for (double t = 0; t < after; t += frame) {
      for (const auto& [at, input] : inputs)
        if (at >= t && at < t + frame) window.runControl().give(input);
      window.runControl().advanceBy(std::min(frame, after - t));
    }
  }
  window.chipRun().compareNow();
  window.bench()->fit();
  window.document().finishCheck();
  if (!typed.isEmpty()) type(window, typed);
  if (!asked.isEmpty()) {
    window.askWhy(asked);
    while (window.why()->isAsking()) QApplication::processEvents(QEventLoop::WaitForMoreEvents);
  }
  for (int i = 0; i < 4; ++i) QApplication::processEvents();
  const bool ok = window.grab().save(file);
  if (!ok) return fail(QStringLiteral("“%1” cannot be written").arg(file));
  return 0;
}

}  // namespace

int main(int argc, char** argv) {
  // What shows no window needs no monitor.
  static const char* const windowless[] = {"--shot", "--picture", "--rehearse", "--help",
                                           "-h",     "--version", "-v"};
  bool shows = true;
  for (int i = 1; i < argc; ++i)
    for (const char* option : windowless) {
      if (!QByteArray(argv[i]).startsWith(option)) continue;
      shows = false;
      if (qEnvironmentVariableIsEmpty("QT_QPA_PLATFORM")) qputenv("QT_QPA_PLATFORM", "offscreen");
    }
  const auto settings = [] {
    return std::make_unique<QSettings>(QSettings::IniFormat, QSettings::UserScope,
                                       QStringLiteral("ignavo"), QStringLiteral("ignavo"));
  };
  // Before anything is drawn.
  if (const QByteArray scale = MainWindow::scaleFactor(*settings());
      shows && !scale.isEmpty() && qEnvironmentVariableIsEmpty("QT_SCALE_FACTOR"))
    qputenv("QT_SCALE_FACTOR", scale);
  QApplication app(argc, argv);
  std::setlocale(LC_NUMERIC, "C");
  QApplication::setApplicationName(QStringLiteral("ignavo"));
  QApplication::setApplicationVersion(QStringLiteral("0.1.0"));
  QApplication::setStyle(QStringLiteral("Fusion"));
  loadFonts();

  QCommandLineParser parser;
  parser.setApplicationDescription(
      QStringLiteral("Wire, check, program, run and build small circuits."));
  parser.addHelpOption();
  parser.addVersionOption();
  parser.addPositionalArgument(QStringLiteral("FILE"), QStringLiteral("Project to open."),
                               QStringLiteral("[FILE]"));
  const QCommandLineOption demoOption(QStringLiteral("demo"), QStringLiteral("Open an example."),
                                      QStringLiteral("NAME"));
  const QCommandLineOption stationOption(QStringLiteral("station"),
                                         QStringLiteral("wire, check, program, run or build."),
                                         QStringLiteral("STATION"));
  const QCommandLineOption shotOption(QStringLiteral("shot"),
                                      QStringLiteral("Write a picture of the window and exit."),
                                      QStringLiteral("OUT.png"));
  const QCommandLineOption pictureOption(
      QStringLiteral("picture"),
      QStringLiteral("Write a picture of the bench alone, PNG or SVG, and exit; with --station "
                     "check the findings are marked."),
      QStringLiteral("OUT"));
  const QCommandLineOption sizeOption(QStringLiteral("size"), QStringLiteral("Size of the window."),
                                      QStringLiteral("1280x800"), QStringLiteral("1280x800"));
  const QCommandLineOption afterOption(
      QStringLiteral("after"),
      QStringLiteral("Power on, and take the picture after so many seconds."),
      QStringLiteral("SECONDS"));
  const QCommandLineOption doOption(
      QStringLiteral("do"),
      QStringLiteral("By hand on the way to it: \"1.5 press btn1\", \"1 pin D4=30%\"."),
      QStringLiteral("SECONDS ACTION"));
  const QCommandLineOption rehearseOption(
      QStringLiteral("rehearse"),
      QStringLiteral("Go through the examples by mouse and key events, say what happened, write a "
                     "picture and exit."),
      QStringLiteral("OUT.png"));
  const QCommandLineOption selectOption(QStringLiteral("select"),
                                        QStringLiteral("Select a part, wire, board or step."),
                                        QStringLiteral("ID"));
  const QCommandLineOption typeOption(
      QStringLiteral("type"),
      QStringLiteral("A line begun in the type-it line, or a step at the Program station."),
      QStringLiteral("TEXT"));
  const QCommandLineOption whyOption(
      QStringLiteral("why"), QStringLiteral("In a picture: ask why that part is dark, or is not."),
      QStringLiteral("ID"));
  const QCommandLineOption chipOption(
      QStringLiteral("chip"), QStringLiteral("Run the chip's own code in place of the steps."));
  const QCommandLineOption darkOption(QStringLiteral("dark"), QStringLiteral("Night bench."));
  parser.addOptions({demoOption, stationOption, shotOption, pictureOption, sizeOption, afterOption,
                     selectOption, typeOption, rehearseOption, darkOption, chipOption, doOption,
                     whyOption});
  parser.process(app);

  bool dark = parser.isSet(darkOption);
  if (!parser.isSet(shotOption)) dark = dark || app.palette().window().color().lightness() < 110;
  setTheme(dark);
  applyColours();

  Station station = Station::wire;
  if (parser.isSet(stationOption) && !stationOf(parser.value(stationOption), station))
    return fail(QStringLiteral("there is no station “%1”").arg(parser.value(stationOption)));
  const QStringList size = parser.value(sizeOption).split(QLatin1Char('x'));
  const QSize wanted = size.size() == 2 ? QSize(size[0].toInt(), size[1].toInt()) : QSize();
  if (wanted.width() < 200 || wanted.height() < 200 || wanted.width() > 8000 ||
      wanted.height() > 8000)
    return fail(QStringLiteral("--size takes a size such as 1280x800"));
  bool number = true;
  const double after = parser.isSet(afterOption) ? parser.value(afterOption).toDouble(&number) : -1;
  if (!number || after > 3600) return fail(QStringLiteral("--after takes seconds"));

  MainWindow window;
  applyShapes();
  window.resize(wanted);
  const bool alone =
      parser.isSet(shotOption) || parser.isSet(pictureOption) || parser.isSet(rehearseOption);
  if (!alone) {
    window.sound().useWhenNeeded(soundCard);
    window.useSettings(settings());
    if (parser.isSet(sizeOption)) window.resize(wanted);
    if (parser.isSet(darkOption)) window.setNight(true);
  }
  if (parser.isSet(demoOption) && !window.openDemo(parser.value(demoOption)))
    return fail(QStringLiteral("there is no example “%1”; ignavo-cli demos lists them")
                    .arg(parser.value(demoOption)));
  if (!parser.positionalArguments().isEmpty()) {
    const QString path = parser.positionalArguments().first();
    if (!window.openPath(path) && parser.isSet(shotOption))
      return fail(QStringLiteral("“%1” cannot be opened").arg(path));
  }
  window.setStation(station);
  QStringList items;
  for (const QString& id : parser.values(selectOption)) {
    const Project& project = window.document().project();
    const bool step = project.step(id.toStdString());
    if (!step && !project.hasId(id.toStdString()))
      return fail(QStringLiteral("there is nothing with the id “%1” to select").arg(id));
    if (step)
      window.document().selectStep(id);
    else
      items << id;
  }
  window.document().select(items);
  if (parser.isSet(whyOption) &&
      !outputNamed(window.document().project(), parser.value(whyOption).toStdString()))
    return fail(QStringLiteral("there is no part “%1”").arg(parser.value(whyOption)));
  if (parser.isSet(chipOption)) window.chipRun().choose(ChipRun::Source::code);
  if (parser.isSet(rehearseOption)) return rehearse(window, parser.value(rehearseOption));
  if (parser.isSet(pictureOption)) {
    const Project& project = window.document().project();
    const bool marked = station == Station::check;
    if (writeBenchPicture(project, parser.value(pictureOption),
                          marked ? ignavo::check(project).findings : std::vector<Finding>(), 1))
      return 0;
    return fail(QStringLiteral("“%1” cannot be written").arg(parser.value(pictureOption)));
  }
  if (parser.isSet(shotOption))
    return shoot(window, parser.value(shotOption), after, parser.values(doOption),
                 parser.value(typeOption), parser.value(whyOption));

  const QString folder = QStandardPaths::writableLocation(QStandardPaths::AppDataLocation);
  window.setRecoveryFolder(folder + QStringLiteral("/unsaved"));
  window.show();
  if (after >= 0) window.togglePower();
  if (parser.isSet(typeOption)) type(window, parser.value(typeOption));
  return QApplication::exec();
}
