#include <QDirIterator>
#include <QProcess>
#include <QRegularExpression>
#include <QtTest>
#include <map>
#include <set>

// The walls of the house: who may use whom, and no Qt in the core.
class TestHouse : public QObject {
  Q_OBJECT
  using Folders = std::set<QString>;

 private Q_SLOTS:
  void foldersUseOnlyWhatTheyMay() {
    const std::map<QString, Folders> may = {
        {"project", {}},
        {"electric", {}},
        {"bench", {"project"}},
        {"parts", {"bench", "electric", "project"}},
        {"program", {"project"}},
        {"run", {"parts", "program", "bench", "electric", "project"}},
        {"check", {"run", "parts", "program", "bench", "electric", "project"}},
        {"text", {}},
        {"format", {"project", "parts", "program", "bench", "text"}},
        {"make",
         {"check", "text", "format", "run", "parts", "program", "bench", "electric", "project"}},
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
  void panesDoNotUseEachOther() {
    const std::set<QString> shared = {"theme", "art", "document", "run"};
    const QRegularExpression include(QStringLiteral("#include \"([a-z]+)/"));
    for (const char* pane : {"bench", "cabinet", "inspector", "findings", "trace", "build"}) {
      QDirIterator files(QStringLiteral(SOURCE_DIR "/app/") + QLatin1String(pane), {"*.h", "*.cpp"},
                         QDir::Files);
      while (files.hasNext()) {
        QFile file(files.next());
        QVERIFY(file.open(QIODevice::ReadOnly));
        const QString text = QString::fromUtf8(file.readAll());
        for (auto it = include.globalMatch(text); it.hasNext();) {
          const QString used = it.next().captured(1);
          const bool app = QDir(QStringLiteral(SOURCE_DIR "/app/") + used).exists() &&
                           !QDir(QStringLiteral(SOURCE_DIR "/core/") + used).exists();
          QVERIFY2(!app || used == QLatin1String(pane) || shared.contains(used),
                   qPrintable(file.fileName() + " uses " + used));
        }
      }
    }
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
