#include <QDirIterator>
#include <QProcess>
#include <QRegularExpression>
#include <QtTest>
#include <map>
#include <set>

#include "program/steps.h"

using namespace ignavo;

// The walls of the house: who may use whom, and no Qt in the core.
class TestHouse : public QObject {
  Q_OBJECT
  using Folders = std::set<QString>;

  // What the files of a folder include of the house.
  static Folders usesOf(const QString& folder) {
    const QRegularExpression include(QStringLiteral("#include \"([^\"]+/[^\"]+)\""));
    Folders out;
    QDirIterator files(QStringLiteral(SOURCE_DIR "/") + folder, {"*.h", "*.cpp"}, QDir::Files,
                       QDirIterator::Subdirectories);
    while (files.hasNext()) {
      QFile file(files.next());
      if (!file.open(QIODevice::ReadOnly)) continue;
      const QString text = QString::fromUtf8(file.readAll());
      for (auto it = include.globalMatch(text); it.hasNext();) out.insert(it.next().captured(1));
    }
    return out;
  }

 private Q_SLOTS:
  void foldersUseOnlyWhatTheyMay() {
    const std::map<QString, Folders> may = {
        {"project", {}},
        {"electric", {}},
        {"avr", {}},
        {"bench", {"project", "text"}},
        {"parts", {"bench", "electric", "project", "text"}},
        {"program", {"project", "text"}},
        {"run", {"avr", "parts", "program", "bench", "electric", "project", "text"}},
        {"explain", {"run", "parts", "program", "bench", "electric", "project", "text"}},
        {"check", {"explain", "run", "parts", "program", "bench", "electric", "project", "text"}},
        {"text", {}},
        {"format", {"project", "parts", "program", "run", "bench", "text"}},
        {"make",
         {"avr", "check", "explain", "text", "format", "run", "parts", "program", "bench",
          "electric", "project"}},
    };
    const QRegularExpression include(QStringLiteral("#include \"([a-z]+)/"));
    int seen = 0;
    for (const auto& [folder, allowed] : may) {
      QDirIterator files(QStringLiteral(SOURCE_DIR "/core/") + folder, {"*.h", "*.cpp"},
                         QDir::Files, QDirIterator::Subdirectories);
      while (files.hasNext()) {
        QFile file(files.next());
        QVERIFY(file.open(QIODevice::ReadOnly));
        const QString text = QString::fromUtf8(file.readAll());
        for (auto it = include.globalMatch(text); it.hasNext();) {
          const QString used = it.next().captured(1);
          QVERIFY2(used == folder || allowed.contains(used),
                   qPrintable(file.fileName() + " uses " + used));
        }
        QVERIFY2(!text.contains(QStringLiteral("#include <Q")),
                 qPrintable(file.fileName() + " includes Qt"));
        ++seen;
      }
    }
    QVERIFY(seen > 40);
  }
  // Folders of the window and of the core may have one name: it is the file that says whose it is.
  void panesDoNotUseEachOther() {
    const Folders everybody = {"theme", "art", "document", "run"};
    // What a folder uses besides, and why.
    const std::map<QString, Folders> may = {
        {"art", {}},
        {"bench", {}},
        {"build", {}},
        {"cabinet", {}},
        {"document", {}},
        {"findings", {}},
        {"inspector", {}},
        {"program", {}},
        {"rehearsal", {"window"}},  // drives it
        {"run", {}},
        {"theme", {}},
        {"trace", {}},
        {"typed", {}},
        // joins them
        {"window",
         {"bench", "build", "cabinet", "findings", "inspector", "program", "trace", "typed"}},
    };
    Folders there;
    for (const QString& folder :
         QDir(QStringLiteral(SOURCE_DIR "/app")).entryList(QDir::Dirs | QDir::NoDotAndDotDot))
      if (!QDir(QStringLiteral(SOURCE_DIR "/app/") + folder)
               .entryList({"*.h", "*.cpp"}, QDir::Files)
               .isEmpty())
        there.insert(folder);
    for (const auto& [folder, allowed] : may) there.erase(folder);
    QVERIFY2(there.empty(), qPrintable(there.empty() ? QString() : *there.begin()));
    for (const auto& [folder, allowed] : may)
      for (const QString& use : usesOf(QStringLiteral("app/") + folder)) {
        const QString used = use.section(QLatin1Char('/'), 0, 0);
        const bool app = QFile::exists(QStringLiteral(SOURCE_DIR "/app/") + use);
        const bool core = QFile::exists(QStringLiteral(SOURCE_DIR "/core/") + use);
        QVERIFY2(app != core || (!app && QFile::exists(QStringLiteral(SOURCE_DIR "/data/") + use)),
                 qPrintable(folder + " uses " + use + ", which is there twice or nowhere"));
        QVERIFY2(!app || used == folder || everybody.contains(used) || allowed.contains(used),
                 qPrintable(folder + " uses " + use));
      }
  }
  // The one who lets everything act knows no kinds of it.
  void theSchedulerNamesNoDevice() {
    for (const char* file : {"device.h", "devices.h", "devices.cpp", "scheduler.h", "scheduler.cpp",
                             "state.h", "run.h"}) {
      QFile f(QStringLiteral(SOURCE_DIR "/core/run/") + QLatin1String(file));
      QVERIFY2(f.open(QIODevice::ReadOnly), file);
      QVERIFY2(!f.readAll().contains("#include \"run/devices/"), file);
    }
  }
  // What kinds of steps, fields, getters and operators are called stands in their rows; others
  // ask program/facts.h. Nobody compares those names, or looks fields up by them.
  void nobodyElseNamesWhatProgramsAreMadeOf() {
    QStringList names{QLatin1String(levelHigh), QLatin1String(levelLow), QLatin1String(pinKey),
                      QLatin1String(firstOperand), QLatin1String(secondOperand)};
    const auto add = [&](const std::string& name) { names << QString::fromStdString(name); };
    for (const StepKind* kind : stepKinds()) {
      add(kind->kind);
      for (const SlotKind& slot : kind->slots) add(slot.key);
      for (const BodyKind& body : kind->bodies) add(body.key);
    }
    for (const GetterKind& kind : getterKinds()) add(kind.name);
    for (const OperatorKind& kind : operatorKinds()) add(kind.name);
    for (const TriggerKind& kind : triggerKinds()) add(kind.on);
    for (QString& name : names) name = QRegularExpression::escape(name);
    const QString any = QStringLiteral("\\s*\"(?:%1)\"").arg(names.join(QLatin1Char('|')));
    const QRegularExpression lookUp(
        QStringLiteral("\\b(?:field|body|arg|setField|slot|stepKind|getterKind|operatorKind|"
                       "triggerKind)\\(") +
        any);
    const QRegularExpression compared(
        QStringLiteral("\\b(?:kind|text|on|key|getter|body|branch|sign|trigger)\\s*[=!]=") + any);
    QVERIFY(compared.isValid() && lookUp.isValid());
    // It would find what was there once.
    QVERIFY(compared.match(QStringLiteral("if (step.kind == \"flip\")")).hasMatch());
    QVERIFY(compared.match(QStringLiteral("e.text != \"level\"")).hasMatch());
    QVERIFY(lookUp.match(QStringLiteral("s.body(\"else\")")).hasMatch());
    int seen = 0;
    for (const char* root : {"core", "cli", "app"}) {
      QDirIterator files(QStringLiteral(SOURCE_DIR "/") + QLatin1String(root), {"*.h", "*.cpp"},
                         QDir::Files, QDirIterator::Subdirectories);
      while (files.hasNext()) {
        QFile file(files.next());
        const QString name = file.fileName();
        // The rows themselves, what a file may hold, and what people type.
        if (name.contains(QStringLiteral("/core/program/")) ||
            name.contains(QStringLiteral("/core/format/")))
          continue;
        QVERIFY(file.open(QIODevice::ReadOnly));
        const QString text = QString::fromUtf8(file.readAll());
        for (const auto& found : {compared.match(text), lookUp.match(text)})
          QVERIFY2(!found.hasMatch(), qPrintable(name + ": " + found.captured()));
        ++seen;
      }
    }
    QVERIFY(seen > 200);
  }
  // Files of a library may be compiled together: what only a file sees is called as nothing else
  // is.
  void filesThatAreCompiledTogetherShareNoName() {
    const QRegularExpression hidden(
        QStringLiteral("^namespace \\{\n(.*?)^\\}  // namespace$"),
        QRegularExpression::MultilineOption | QRegularExpression::DotMatchesEverythingOption);
    // A function, with what it takes; a constant or a type.
    const QRegularExpression named(
        QStringLiteral("^(?!using|static_assert)(?:\\w[\\w:<>*&, ]*?[ *&](\\w+\\([^{;]*)|"
                       "(?:constexpr|const) [\\w:<>*&, ]+?(\\w+) = |(?:struct|class) (\\w+))"),
        QRegularExpression::MultilineOption);
    const QRegularExpression constants(
        QStringLiteral("^constexpr (?:double|int) ([^;{(]*,[^;{(]*);"),
        QRegularExpression::MultilineOption);
    const QRegularExpression further(QStringLiteral(",\\s*(\\w+) = "));
    const QRegularExpression parameter(QStringLiteral(" *\\w+( *= *[^,)]*)?(?=[,)])"));
    int seen = 0;
    QStringList libraries{QStringLiteral("app")};
    for (const QString& folder :
         QDir(SOURCE_DIR "/core").entryList(QDir::Dirs | QDir::NoDotAndDotDot))
      libraries << "core/" + folder;
    // What the headers name is nobody's to hide.
    const QRegularExpression open(
        QStringLiteral("^(?:class|struct|enum class) (\\w+) (?:final )?[:{]"),
        QRegularExpression::MultilineOption);
    std::map<QString, QString> inHeaders;
    for (const char* part : {"/core", "/app"})
      for (QDirIterator files(QString(SOURCE_DIR) + part, {"*.h"}, QDir::Files,
                              QDirIterator::Subdirectories);
           files.hasNext();) {
        QFile file(files.next());
        QVERIFY(file.open(QIODevice::ReadOnly));
        const QString text = QString::fromUtf8(file.readAll());
        for (auto it = open.globalMatch(text); it.hasNext();)
          inHeaders.try_emplace(it.next().captured(1), file.fileName());
      }
    for (const QString& library : libraries) {
      std::map<QString, QString> where = inHeaders;
      QDirIterator files(SOURCE_DIR "/" + library, {"*.cpp"}, QDir::Files,
                         QDirIterator::Subdirectories);
      while (files.hasNext()) {
        QFile file(files.next());
        QVERIFY(file.open(QIODevice::ReadOnly));
        const QString text = QString::fromUtf8(file.readAll());
        // "constexpr double wide = 3, air = 4;": the first is found below, the others here.
        for (auto block = hidden.globalMatch(text); block.hasNext();)
          for (auto it = constants.globalMatch(block.next().captured(1)); it.hasNext();) {
            const QString all = it.next().captured(1);
            for (auto more = further.globalMatch(all); more.hasNext();) {
              const QString name = more.next().captured(1);
              const auto [other, fresh] = where.try_emplace(name, file.fileName());
              ++seen;
              QVERIFY2(fresh || other->second == file.fileName(),
                       qPrintable(name + " in " + other->second + " and " + file.fileName()));
            }
          }
        for (auto block = hidden.globalMatch(text); block.hasNext();)
          for (auto it = named.globalMatch(block.next().captured(1)); it.hasNext();) {
            const QRegularExpressionMatch match = it.next();
            QString name = match.captured(1) + match.captured(2) + match.captured(3);
            name = name.replace(parameter, QString()).simplified();
            const auto [other, fresh] = where.try_emplace(name, file.fileName());
            ++seen;
            QVERIFY2(fresh || other->second == file.fileName(),
                     qPrintable(name + " in " + other->second + " and " + file.fileName()));
          }
      }
    }
    QVERIFY2(seen > 500, qPrintable(QString::number(seen)));
  }
  void theCommandLineLinksNoQt() {
    QProcess p;
    p.start(QStringLiteral("ldd"), {QStringLiteral(CLI_PATH)});
    QVERIFY(p.waitForFinished(20000));
    const QByteArray libraries = p.readAllStandardOutput();
    QVERIFY(libraries.contains("libstdc++"));
    QVERIFY2(!libraries.contains("Qt"), libraries.constData());
  }
  void nothingButTheThemeNamesAColour() {
    const QRegularExpression colour(QStringLiteral("QColor\\(\"#|= \"#[0-9A-Fa-f]{6}"));
    QDirIterator files(QStringLiteral(SOURCE_DIR "/app"), {"*.h", "*.cpp"}, QDir::Files,
                       QDirIterator::Subdirectories);
    while (files.hasNext()) {
      QFile file(files.next());
      if (file.fileName().contains(QStringLiteral("/theme/"))) continue;
      QVERIFY(file.open(QIODevice::ReadOnly));
      QVERIFY2(!colour.match(QString::fromUtf8(file.readAll())).hasMatch(),
               qPrintable(file.fileName()));
    }
  }
};

QTEST_GUILESS_MAIN(TestHouse)
#include "tst_house.moc"
