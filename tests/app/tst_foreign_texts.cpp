#include <QAbstractButton>
#include <QAction>
#include <QHelpEvent>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QLabel>
#include <QLineEdit>
#include <QPointer>
#include <QProcess>
#include <QTextEdit>
#include <QToolTip>
#include <QXmlStreamReader>
#include <QtTest>
#include <set>

#include "demos.h"
#include "format/project_file.h"
#include "format/wiring_language.h"
#include "make/c_text.h"
#include "support/window.h"
#include "text/plain.h"

using namespace ignavo;
using namespace ignavo::app;
using namespace ignavo::test;

namespace {

const QString sign = QStringLiteral("Qz");  // by which a planted text is recognised

// What files bring that is meant for somebody else: for a window, a terminal, a comment, a table.
const QStringList planted = {
    sign + QStringLiteral("<img src=\"/dev/zero\"><b>bold</b>"),
    sign + QStringLiteral("&File & <i>Co</i> &amp; %1 {}"),
    sign + QStringLiteral("\u202Eabc\u2066\u200Fd"),
    sign + QStringLiteral("\u001b[31mred\u001b]0;x\u0007\u009b2J"),
    sign + QStringLiteral("one\r\ntwo\n$end #5\n\tq"),
    sign + QStringLiteral("*/ int x; /* \\ ?\?/ // \\"),
    sign + QStringLiteral("=1+1\",\";' ]]><script>%s%n"),
};

struct Printed {
  int exit = -1;
  QByteArray out, err;
};
Printed ran(const char* program, const QStringList& words) {
  QProcess p;
  p.start(QString::fromUtf8(program), words);
  p.waitForFinished(60000);
  return {p.exitStatus() == QProcess::NormalExit ? p.exitCode() : -1, p.readAllStandardOutput(),
          p.readAllStandardError()};
}

// What would steer a terminal, or turn the direction of writing; nothing: none of it.
QString steering(const QByteArray& bytes) {
  const QString text = QString::fromUtf8(bytes);
  for (const QChar c : text) {
    const auto u = c.unicode();
    const bool control = (u < 0x20 && u != '\n' && u != '\t') || (u >= 0x7f && u < 0xa0);
    const bool turns = u == 0x200e || u == 0x200f || (u >= 0x202a && u <= 0x202e) ||
                       (u >= 0x2066 && u <= 0x2069) || u == 0x61c;
    if (control || turns) return QStringLiteral("U+%1 in: %2").arg(u, 4, 16).arg(text);
  }
  return {};
}

// Each text in a JSON document in turn, as a path that can be set.
void walk(const QJsonValue& value, const QList<QVariant>& path,
          const std::function<void(const QList<QVariant>&)>& visit) {
  if (value.isString()) return visit(path);
  if (value.isArray())
    for (int i = 0; i < value.toArray().size(); ++i)
      walk(value.toArray().at(i), path + QList<QVariant>{i}, visit);
  if (value.isObject())
    for (const QString& key : value.toObject().keys())
      walk(value.toObject().value(key), path + QList<QVariant>{key}, visit);
}
QJsonValue with(const QJsonValue& value, const QList<QVariant>& path, const QString& text) {
  if (path.isEmpty()) return text;
  const QList<QVariant> rest = path.mid(1);
  if (value.isArray()) {
    QJsonArray a = value.toArray();
    a[path.front().toInt()] = with(a.at(path.front().toInt()), rest, text);
    return a;
  }
  QJsonObject o = value.toObject();
  o[path.front().toString()] = with(o.value(path.front().toString()), rest, text);
  return o;
}

// A bench with something to say of: a lamp the wrong way round, a button, a label, a lane.
Project troubled() {
  Project p = readWiring(
                  "title \"Landing\"\nred led i11 i9\n220 c9 h9\nwire D4 a9\nwire j11 GND\n"
                  "button e18\n10k c20 c25\nwire 5V a18\nwire D2 a20\nwire GND2 a25\n"
                  "pull up D2\nlabel D4 \"Beacon\"\n"
                  "Round and round:\n  if d2 high\n    set d4 high\n  wait 0.5\n")
                  .project;
  p.about = "What it is for.";
  return p;
}
Project everywhere(const QString& text) {
  const Project bare = troubled();
  Project p = bare;
  p.title = p.about = text.toStdString();
  int number = 0;
  for (const auto& part : *bare.parts) {
    const QString name = QStringLiteral("%1 %2").arg(text.left(50)).arg(++number);
    p = edits::changePart(p, part->id, [&](Part& q) { q.name = name.toStdString(); });
  }
  p = edits::setPinLabel(p, "b1", "D4", text.left(50).toStdString());
  return readProject(writeProject(p)).project;
}

}  // namespace

// Texts of a project come from anywhere, and are shown letter by letter wherever they are shown.
class TestForeignTexts : public QObject {
  Q_OBJECT
  Answers answers_;
  std::unique_ptr<MainWindow> window_;
  QTemporaryDir folder_;

  Document& doc() { return window_->document(); }
  QString kept(const QByteArray& text) {
    static int n = 0;
    const QString path = folder_.filePath(QStringLiteral("p%1.ignavo").arg(++n));
    QFile file(path);
    if (!file.open(QIODevice::WriteOnly)) return {};
    file.write(text);
    return path;
  }

  // The first place of the window in which a planted text is not plain.
  QString notPlain() {
    const auto steers = [](const QString& text) {
      // A line break is one in an editor of several lines, and steers nothing in a label.
      return !steering(text.toUtf8()).isEmpty();
    };
    for (const QLabel* l : window_->findChildren<QLabel*>()) {
      // Tips come below; what was never to be seen yet is made plain before it is.
      if (!l->text().contains(sign) || l->inherits("QTipLabel") ||
          !l->testAttribute(Qt::WA_WState_Polished))
        continue;
      if (l->textFormat() != Qt::PlainText || steers(l->text())) return "label " + l->text();
    }
    for (const QAbstractButton* b : window_->findChildren<QAbstractButton*>())
      if (b->text().contains(sign) && (steers(b->text()) || underlines(b->text())))
        return "button " + b->text();
    for (const QAction* a : window_->findChildren<QAction*>())
      if (a->text().contains(sign) && (steers(a->text()) || underlines(a->text())))
        return "action " + a->text();
    for (const QLineEdit* e : window_->findChildren<QLineEdit*>())
      if (steers(e->text()) || steers(e->placeholderText())) return "field " + e->text();
    for (const QTextEdit* e : window_->findChildren<QTextEdit*>())
      if (e->toHtml().contains("<img") || e->toHtml().contains("<b>bold")) return "editor";
    if (steers(window_->windowTitle())) return "title " + window_->windowTitle();
    QList<QPointer<QWidget>> widgets;  // a tip that goes is one of them
    for (QWidget* w : window_->findChildren<QWidget*>()) widgets << w;
    for (const QPointer<QWidget>& w : widgets) {
      if (!w || !w->toolTip().contains(sign)) continue;
      QHelpEvent ask(QEvent::ToolTip, QPoint(2, 2), w->mapToGlobal(QPoint(2, 2)));
      QApplication::sendEvent(w.data(), &ask);
      const QString shown = QToolTip::text();
      QToolTip::hideText();
      if (shown.contains("<img") || shown.contains("<b>") || shown.contains("<i>") ||
          shown.contains("<script"))
        return "tip " + shown;
    }
    return {};
  }
  // An & that would underline a letter.
  static bool underlines(QString words) {
    words.remove(QStringLiteral("&&"));
    return words.contains('&');
  }

 private Q_SLOTS:
  void initTestCase() { lookAsInDaylight(); }
  void init() { window_ = openWindow(answers_); }
  void cleanup() { window_.reset(); }

  // ---- every view
  void everyViewShowsThemLetterByLetter_data() {
    QTest::addColumn<QString>("text");
    static constexpr const char* names[] = {"markup",      "ampersands", "direction", "escapes",
                                            "line breaks", "C",          "tables"};
    static_assert(std::size(names) == 7);
    QCOMPARE(planted.size(), qsizetype(std::size(names)));
    for (int i = 0; i < planted.size(); ++i) QTest::newRow(names[i]) << planted[i];
  }
  void everyViewShowsThemLetterByLetter() {
    QFETCH(QString, text);
    const Project p = everywhere(text);
    QVERIFY(QString::fromStdString(p.title).startsWith(sign));
    doc().reset(p, {});
    doc().finishCheck();
    QVERIFY(!doc().check().findings.empty());
    int seen = 0;
    for (const bool powered : {false, true}) {
      if (powered) {
        window_->togglePower();
        window_->runControl().advanceBy(0.5);
      }
      for (const Station station :
           {Station::wire, Station::check, Station::program, Station::run, Station::build}) {
        window_->setStation(station);
        for (const char* selected : {"", "led1", "btn1", "r1", "b1"}) {
          doc().select(*selected ? QStringList{QString::fromLatin1(selected)} : QStringList());
          QApplication::processEvents();
          QCOMPARE(notPlain(), QString());
          for (const QLabel* l : window_->findChildren<QLabel*>()) seen += l->text().contains(sign);
        }
      }
    }
    QVERIFY2(seen > 20, qPrintable(QString::number(seen)));
    // What was done is named in menus and tips.
    doc().select({"led1"});
    window_->setStation(Station::wire);
    window_->bench()->flipSelected();
    window_->bench()->removeSelected();
    QApplication::processEvents();
    QCOMPARE(notPlain(), QString());
    QVERIFY(!steering(window_->bench()->tipLines().join('\n').toUtf8()).size());
  }
  // Typed and pasted texts are as plain as those of a file.
  void typedTextsArePlain() {
    doc().reset(troubled(), {});
    for (const QString& text : planted) {
      doc().select({"led1"});
      window_->setStation(Station::wire);
      QApplication::processEvents();
      QLineEdit* name = nullptr;
      for (QLineEdit* e : window_->findChildren<QLineEdit*>())
        if (e->isVisible() && e->accessibleName() == "Name") name = e;
      QVERIFY(name);
      name->setFocus();
      name->selectAll();
      name->insert(text.left(50));
      QTest::keyClick(name, Qt::Key_Return);
      QApplication::processEvents();
      const std::string now = doc().project().part("led1")->name;
      QCOMPARE(plainLine(now), now);
      QVERIFY(QString::fromStdString(now).startsWith(sign));
      QCOMPARE(notPlain(), QString());
      // What was typed reads back as it is.
      const ReadResult r = readProject(writeProject(doc().project()));
      QVERIFY(r.sound() && r.project == doc().project());
    }
  }

  // ---- every output
  void everyTextOfAFileReachesATerminalPlainly() {
    const QByteArray file = QByteArray::fromStdString(writeProject(troubled()));
    const QJsonDocument document = QJsonDocument::fromJson(file);
    QList<QList<QVariant>> paths;
    walk(document.object(), {}, [&](const auto& path) { paths << path; });
    QVERIFY(paths.size() > 60);
    int told = 0;
    for (const auto& path : paths)
      for (const QString& text : {planted[3] + planted[2], planted[4]}) {
        const QByteArray changed =
            QJsonDocument(with(document.object(), path, text).toObject()).toJson();
        const QString name = kept(changed);
        QList<QStringList> all = {{"check", name}};
        if (paths.indexOf(path) % 6 == 0)  // what is read is read by the same reader
          all << QStringList{"solve", name} << QStringList{"run", name, "--for", "0.1"};
        for (const QStringList& words : all) {
          const Printed r = ran(CLI_PATH, words);
          QVERIFY(r.exit >= 0);
          const QString what = steering(r.out) + steering(r.err);
          QVERIFY2(what.isEmpty(), qPrintable(words.front() + ": " + what));
          // No line of its own: a line break in a text would forge one.
          for (const QByteArray& line : (r.out + r.err).split('\n'))
            QVERIFY2(!line.startsWith("two") && !line.startsWith("$end"), line.constData());
          told += r.exit == 2;
        }
      }
    QVERIFY(told > 50);
  }
  void keysOfAFileReachATerminalPlainly() {
    QByteArray file = QByteArray::fromStdString(writeProject(troubled()));
    file.replace("\"ohms\"", "\"oh\\u001b[31m\\u202e\\nms\"");
    file.replace("\"title\"", "\"ti\\u001b[31m\\u202etle\"");
    const Printed r = ran(CLI_PATH, {"check", kept(file)});
    QCOMPARE(steering(r.out) + steering(r.err), QString());
    for (const char* broken : {"{\"\\u001b[31m\": ", "{\"format\": \"\\u202e\\u001b[2J\"}",
                               "\x1b[31m{", "{\"format\":\"ignavo-project\",\"\x1b[2J\":1"}) {
      const Printed bad = ran(CLI_PATH, {"check", kept(broken)});
      QCOMPARE(bad.exit, 2);
      QCOMPARE(steering(bad.out) + steering(bad.err), QString());
    }
  }
  void pictures() {
    for (const QString& text : planted) {
      const QString svg = folder_.filePath("bench.svg"),
                    file = kept(QByteArray::fromStdString(writeProject(everywhere(text))));
      QCOMPARE(ran(APP_PATH, {file, "--picture", svg, "--station", "check"}).exit, 0);
      QFile in(svg);
      QVERIFY(in.open(QIODevice::ReadOnly));
      QXmlStreamReader xml(&in);
      QStringList words;
      while (!xml.atEnd()) {
        xml.readNext();
        if (xml.isStartElement()) {
          const QString name = xml.name().toString();
          QVERIFY2(name != "script" && name != "b" && name != "i", qPrintable(name));
          // Pictures inside are the drawing's own, never from elsewhere.
          for (const auto& a : xml.attributes())
            QVERIFY2(!a.value().contains(QLatin1String("/dev/")), qPrintable(a.value().toString()));
        }
        if (xml.isCharacters()) words << xml.text().toString();
      }
      QVERIFY2(!xml.hasError(), qPrintable(xml.errorString()));
      QCOMPARE(steering(words.join(' ').toUtf8()), QString());
    }
  }
  void tablesAndTraces() {
    for (const QString& text : planted) {
      const QString vcd = folder_.filePath("t.vcd"), csv = folder_.filePath("t.csv"),
                    file = kept(QByteArray::fromStdString(writeProject(everywhere(text))));
      QCOMPARE(ran(CLI_PATH, {"run", file, "--for", "2", "--vcd", vcd, "--csv", csv, "--at", "0.6",
                              "press btn1"})
                   .exit,
               0);
      QFile table(csv), trace(vcd);
      QVERIFY(table.open(QIODevice::ReadOnly) && trace.open(QIODevice::ReadOnly));
      const QList<QByteArray> rows = table.readAll().trimmed().split('\n');
      QVERIFY2(rows.size() > 1, rows.join('|').constData());
      for (const QByteArray& row : rows) {
        QCOMPARE(row.count(','), rows.front().count(','));
        QVERIFY(!row.startsWith('='));
      }
      const QByteArray dump = trace.readAll();
      QCOMPARE(steering(dump), QString());
      QVERIFY(!dump.contains("#5\n\tq"));
      QCOMPARE(dump.count("$enddefinitions"), 1);
      // Each command has its end; the words between them are no commands.
      for (const QByteArray& line : dump.split('\n'))
        QVERIFY2(!line.startsWith("$var") || line.endsWith("$end"), line.constData());
    }
  }
  void findingsForOtherTools() {
    for (const QString& text : planted) {
      const QString file = kept(QByteArray::fromStdString(writeProject(everywhere(text))));
      for (const QStringList& how : {QStringList{"--sarif"}, {"--json"}}) {
        const Printed r = ran(CLI_PATH, QStringList{"check", file} + how);
        QJsonParseError error;
        const QJsonDocument json = QJsonDocument::fromJson(r.out, &error);
        QVERIFY2(error.error == QJsonParseError::NoError, r.out.constData());
        QVERIFY(QString::fromUtf8(r.out).contains(sign));
        walk(json.isArray() ? QJsonValue(json.array()) : QJsonValue(json.object()), {},
             [&](const auto& path) {
               QJsonValue v = json.isArray() ? QJsonValue(json.array()) : QJsonValue(json.object());
               for (const QVariant& step : path)
                 v = v.isArray() ? v.toArray().at(step.toInt())
                                 : v.toObject().value(step.toString());
               QCOMPARE(steering(v.toString().toUtf8()), QString());
             });
      }
    }
  }
  // The program as C: comments end where they should, and hold no code.
  void programText() {
    for (const QString& text : planted) {
      const Project p = everywhere(text);
      const std::string made = cText(p, "b1").text;
      const QString c = QString::fromStdString(made);
      QCOMPARE(steering(c.toUtf8()), QString());
      QVERIFY(c.contains(sign));
      // Without its comments nothing of what was planted is left.
      QString code;
      for (qsizetype i = 0; i < c.size();) {
        if (c.mid(i, 2) == "/*") {
          const qsizetype end = c.indexOf("*/", i + 2);
          QVERIFY(end >= 0);
          QVERIFY(!c.mid(i + 2, end - i - 2).contains("/*"));
          i = end + 2;
        } else if (c.mid(i, 2) == "//") {
          qsizetype end = c.indexOf('\n', i);
          QVERIFY(end < 0 || c.at(end - 1) != '\\');
          i = end < 0 ? c.size() : end;
        } else {
          code += c.at(i++);
        }
      }
      for (const QString& word : {sign, QStringLiteral("int x;"), QStringLiteral("img")})
        QVERIFY2(!code.contains(word), qPrintable(code));
      QVERIFY(!code.contains("?\?/"));
    }
  }
  // The circuit as text, and back: nothing breaks out of its quotation marks.
  void wiringText() {
    for (const QString& text : planted) {
      const Project p = everywhere(text);
      const std::string written = writeWiring(p);
      QCOMPARE(steering(QByteArray::fromStdString(written)), QString());
      const WiringText back = readWiring(written);
      QVERIFY2(back.problems.empty(),
               back.problems.empty() ? "" : inWords(back.problems[0].what.message).c_str());
      QCOMPARE(back.project.title, p.title);
      QCOMPARE(back.project.about, p.about);
      QCOMPARE(back.project.parts->size(), p.parts->size());
      for (const auto& part : *p.parts) QCOMPARE(back.project.part(part->id)->name, part->name);
    }
  }
};

QTEST_MAIN(TestForeignTexts)
#include "tst_foreign_texts.moc"
