#include <QAbstractButton>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QPushButton>
#include <QScrollArea>
#include <QScrollBar>
#include <QtTest>
#include <map>

#include "bench/placing.h"
#include "bench/scene.h"
#include "check/rule.h"
#include "demos.h"
#include "findings/findings_pane.h"
#include "format/project_file.h"
#include "format/wiring_language.h"
#include "support/build.h"
#include "support/window.h"

using namespace ignavo;
using namespace ignavo::app;
using namespace ignavo::test;

namespace {

// The first four circuits that a rule's text cases say it must fire on; all of them are gone
// through without a window.
std::vector<std::string> casesOf(const std::string& rule) {
  QFile file(QStringLiteral(SOURCE_DIR "/tests/rules/%1.txt").arg(QString::fromStdString(rule)));
  if (!file.open(QIODevice::ReadOnly)) return {};
  std::vector<std::string> out;
  bool fires = false;
  for (const QString& line : QString::fromUtf8(file.readAll()).split('\n')) {
    if (line.startsWith("== ")) {
      fires = line.startsWith("== fires:") && out.size() < 4;
      if (fires) out.emplace_back();
    } else if (fires && !line.startsWith("> ") && !line.startsWith("! ") &&
               (!line.startsWith("# ") || line.startsWith("# size "))) {
      out.back() += line.toStdString() + "\n";
    }
  }
  return out;
}

}  // namespace

// The findings as a learner meets them: read, pointed at, gone through, mended, undone.
class TestFindingsPane : public QObject, protected OpenedWindow {
  Q_OBJECT
  FindingsPane* pane() { return window_->findChild<FindingsPane*>(); }
  void open(const Project& p) {
    doc().reset(p, {});
    doc().finishCheck();
    window_->setStation(Station::check);
    QApplication::processEvents();
  }
  // A lamp turned round and a button without pull-down; two more than that when `worse`.
  Project faulty(bool worse = false) {
    Project p = readProject(demo("ferry-call-bell")->text).project;
    p = edits::changePart(p, "led1", [](Part& q) { q = flipped(q, catalogue()); });
    for (const auto& wire : *p.wires)
      if (wire->to.point == "a25") {
        p = edits::remove(p, {wire->id});
        break;
      }
    if (!worse) return p;
    // A lamp straight from a pin to ground.
    const Project lamp = readWiring("green led a2 a4\nwire D8 b2\nwire b4 GND3\n").project;
    Part led = *lamp.parts->front();
    led.id = "led9";
    p = edits::addPart(p, led);
    for (const auto& wire : *lamp.wires) {
      Wire w = *wire;
      w.id = freeId(p, "w");
      p = edits::addWire(p, w);
    }
    Lane lane;
    lane.steps = parseSteps("set d8 high\nwait 1\nset d8 low\nwait 1\n").steps;
    p = edits::addLane(p, "b1", lane);
    return p;
  }
  QString everythingCutOff() {
    const auto* area = pane()->findChild<QScrollArea*>();
    for (const QLabel* l : pane()->findChildren<QLabel*>()) {
      if (!l->isVisible() || l->text().isEmpty()) continue;
      const int left = l->mapTo(pane(), QPoint(0, 0)).x();
      if (left < 0 || left + l->width() > pane()->width()) return "too far out: " + l->text();
      if (l->wordWrap() ? l->height() < l->heightForWidth(l->width())
                        : l->width() < l->sizeHint().width() - 1)
        return "cut off: " + l->text();
    }
    for (const QAbstractButton* b : area->widget()->findChildren<QAbstractButton*>()) {
      if (!b->isVisible()) continue;
      const int left = b->mapTo(area->viewport(), QPoint(0, 0)).x();
      if (left < 0 || left + b->width() > area->viewport()->width() ||
          b->width() < b->minimumSizeHint().width())
        return "button: " + b->text();
    }
    return {};
  }

 private Q_SLOTS:
  void initTestCase() { lookAsInDaylight(); }
  void init() { window_ = openWindow(answers_); }
  void cleanup() { window_.reset(); }

  // Each rule's circuits in the smallest window: all can be read, pointed at and gone through,
  // and what is offered does what it says and is taken back.
  void everyRuleInTheWindow_data() {
    QTest::addColumn<QString>("rule");
    for (const std::string& id : ruleIds()) QTest::newRow(id.c_str()) << QString::fromStdString(id);
  }
  void everyRuleInTheWindow() {
    QFETCH(QString, rule);
    window_->resize(1024, 700);
    const auto cases = casesOf(rule.toStdString());
    QVERIFY(cases.size() >= 3);
    bool met = false;
    for (const std::string& text : cases) {
      const WiringText read = readWiring(text);
      QVERIFY2(read.problems.empty(), text.c_str());
      const Project p = read.project;
      open(p);
      if (int flash = 0, ram = 0; std::sscanf(text.c_str(), "# size %d %d", &flash, &ram) == 2) {
        doc().setProgramSize("b1", {flash, ram});
        doc().finishCheck();
        QApplication::processEvents();
      }
      const auto findings = doc().check().findings;
      QVERIFY2(!findings.empty(), text.c_str());
      QTRY_VERIFY2(everythingCutOff().isEmpty(), qPrintable(everythingCutOff()));
      for (std::size_t i = 0; i < findings.size(); ++i) {
        const Finding& f = findings[i];
        met = met || f.rule == rule.toStdString();
        QWidget* card = child<QWidget>("finding" + std::to_string(i));
        QVERIFY(card);
        QCOMPARE(card->accessibleName(), QString::fromStdString(inWords(f.title)));
        QVERIFY(card->accessibleDescription().startsWith(severityTitle(f.severity)));
        QEnterEvent enter({5, 5}, {5, 5}, card->mapToGlobal(QPointF(5, 5)));
        QApplication::sendEvent(card, &enter);
        card->setFocus();
        for (int k = 0; k < 4; ++k) QTest::keyClick(card, Qt::Key_Return);
        QEvent leave(QEvent::Leave);
        QApplication::sendEvent(card, &leave);
        QVERIFY(doc().project() == p);  // looking changes nothing
      }
      for (std::size_t i = 0; i < findings.size(); ++i)
        for (std::size_t r = 0; r < findings[i].remedies.size(); ++r) {
          auto* mend = child<QPushButton>("remedy" + std::to_string(i) + "-" + std::to_string(r));
          QVERIFY2(mend, inWords(findings[i].remedies[r].title).c_str());
          QTest::mouseClick(mend, Qt::LeftButton);
          QVERIFY2(doc().project() == findings[i].remedies[r].after,
                   inWords(findings[i].remedies[r].title).c_str());
          doc().undo();
          QVERIFY(doc().project() == p);
          doc().finishCheck();
          QApplication::processEvents();
        }
    }
    QVERIFY(met);
  }

  // ---- what stands where
  void theGravestComesFirstAndTheHeadCountsThem() {
    open(faulty(true));
    const auto& findings = doc().check().findings;
    QVERIFY(findings.size() >= 3);
    std::map<Severity, int> counts;
    for (std::size_t i = 0; i < findings.size(); ++i) {
      ++counts[findings[i].severity];
      if (i > 0) QVERIFY(findings[i].severity <= findings[i - 1].severity);
      if (i > 0)
        QVERIFY(child<QWidget>("finding" + std::to_string(i))->y() >
                child<QWidget>("finding" + std::to_string(i - 1))->y());
    }
    const QString head = child<QLabel>("findingsHead")->text();
    QVERIFY2(head.startsWith(QString("%1 would break").arg(counts[Severity::danger])),
             qPrintable(head));
    QVERIFY(head.contains(QString("%1 won’t work").arg(counts[Severity::warning])));
  }
  // What was checked may still have a board that is taken out by now.
  void theFootIsOfTheBoardsThatAreThere() {
    doc().reset(beacon()
                    .program(blink)
                    .board("b2")
                    .lane("always", "set d7 high\n", "b2")
                    .wire("D7", "b2.D7")
                    .wire("GND", "b2.GND"),
                {});
    doc().finishCheck();
    window_->setStation(Station::wire);
    const auto foot = [&] { return pane()->findChild<QLabel*>("findingsFoot")->text(); };
    doc().edit("take out", edits::remove(doc().project(), {"b2"}));
    window_->setStation(Station::check);
    QVERIFY(!doc().checkIsCurrent());
    QVERIFY2(!foot().contains("mA"), qPrintable(foot()));
    doc().finishCheck();
    QApplication::processEvents();
    QVERIFY2(foot().contains("· all pins 13 of 200 mA"), qPrintable(foot()));
    doc().undo();
    doc().finishCheck();
    QApplication::processEvents();
    QVERIFY2(foot().contains("b1 all pins") && foot().contains("b2 all pins"), qPrintable(foot()));
  }
  void theFootSaysWhetherThereIsAShortCircuit() {
    const auto says = [&](const char* words) {
      for (const QLabel* l : pane()->findChildren<QLabel*>())
        if (l->isVisible() && l->text().startsWith(words)) return true;
      return false;
    };
    open(beacon().program(blink));
    QVERIFY(says("No short circuit · all pins 13 of 200 mA"));
    QVERIFY(says("All clear"));
    open(Bench());
    QVERIFY(says("Nothing to check yet"));
    // Nothing is said in green of a board that gives all it can.
    const QColor good = theme().good;
    const auto foot = [&] { return pane()->findChild<QLabel*>("findingsFoot"); };
    QVERIFY(foot()->styleSheet().contains(good.name()));
    Bench full;
    full.wire("5V", "a1").resistor("r1", 10.5, "c1", "h1").wire("j1", "GND");
    full.prop("r1", "watts", 5.0);
    open(full);
    QVERIFY2(foot()->text().contains("hardly anything to spare"), qPrintable(foot()->text()));
    QVERIFY(!foot()->styleSheet().contains(good.name()));
    open(beacon().wire("5V", "GND2").program(blink));
    QVERIFY(says("There is a short circuit"));
    QVERIFY(says("1 would break"));
  }
  void theListStandsStillWhileNothingInItChanges() {
    open(faulty());
    QWidget* first = child<QWidget>("finding0");
    first->setFocus();
    // A title that is typed, and taken back: the cards are the very same.
    Project p = doc().project();
    p.title = "Bell of the upper landing";
    doc().edit("rename", p);
    doc().finishCheck();
    QCOMPARE(child<QWidget>("finding0"), first);
    QVERIFY(first->hasFocus());
    doc().undo();
    doc().finishCheck();
    QCOMPARE(child<QWidget>("finding0"), first);
    // One that goes makes the list anew.
    const std::size_t before = doc().check().findings.size();
    QTest::mouseClick(child<QPushButton>("remedy0-0"), Qt::LeftButton);
    doc().finishCheck();
    QVERIFY(doc().check().findings.size() < before);
    QVERIFY(!child<QWidget>("finding" + std::to_string(before - 1)));
  }

  // ---- nothing that was done meanwhile is lost
  void aMendKeepsWhatWasDoneMeanwhile() {
    open(faulty());
    const std::size_t found = doc().check().findings.size();
    Project p = doc().project();
    p.title = "Bell of the upper landing";
    doc().edit("rename", p);
    doc().finishCheck();
    QCOMPARE(doc().check().findings.size(), found);  // the list is as it was
    QTest::mouseClick(child<QPushButton>("remedy0-0"), Qt::LeftButton);
    doc().finishCheck();
    QCOMPARE(doc().check().findings.size(), found - 1);
    QCOMPARE(doc().project().title, std::string("Bell of the upper landing"));
  }
  // Faster than the check: the mend is made of the project as it is then.
  void aMendWaitsForTheCheckOfWhatIsThere() {
    open(faulty());
    const std::size_t found = doc().check().findings.size();
    Project p = doc().project();
    p.title = "Bell of the upper landing";
    doc().edit("rename", p);
    QVERIFY(!doc().checkIsCurrent());
    auto* mend = child<QPushButton>("remedy0-0");
    QTest::mouseClick(mend, Qt::LeftButton);
    QTRY_VERIFY(doc().checkIsCurrent() && doc().check().findings.size() == found - 1);
    QCOMPARE(doc().project().title, std::string("Bell of the upper landing"));
  }
  void aMendOfWhatIsGoneDoesNothing() {
    open(faulty());
    std::size_t lamp = 0;
    while (doc().check().findings.at(lamp).rule != "led-reversed") ++lamp;
    auto* mend = child<QPushButton>("remedy" + std::to_string(lamp) + "-0");
    QWidget* card = child<QWidget>("finding" + std::to_string(lamp));
    const Project without = edits::remove(doc().project(), {"led1"});
    doc().edit("remove", without);
    // Neither its mend nor its places are there any more.
    mend->click();
    QTest::keyClick(card, Qt::Key_Return);
    doc().finishCheck();
    QApplication::processEvents();
    QVERIFY(doc().project() == without);
  }
  void anEditAfterTheClickIsTheLastWord() {
    open(faulty());
    Project p = doc().project();
    p.title = "A";
    doc().edit("rename", p);
    child<QPushButton>("remedy0-0")->click();  // waits for the check
    p.title = "B";
    doc().edit("rename", p);
    doc().finishCheck();
    QApplication::processEvents();
    QVERIFY(doc().project() == p);
  }
  // Undo tells units and names as they are written.
  void undoTellsAMendAsItWasOffered() {
    open(faulty(true));
    int mended = 0;
    for (std::size_t i = 0; i < doc().check().findings.size(); ++i) {
      if (doc().check().findings[i].remedies.empty()) continue;
      ++mended;
      const std::string title = "“" + inWords(doc().check().findings[i].remedies[0].title) + "”";
      QTest::mouseClick(child<QPushButton>("remedy" + std::to_string(i) + "-0"), Qt::LeftButton);
      QCOMPARE(doc().history().undoName(), title);
      doc().undo();
      doc().finishCheck();
    }
    QVERIFY(mended > 1);
  }

  // ---- where one is afterwards
  void afterAMendByKeyTheNextFindingHasTheFocus() {
    open(faulty(true));
    std::size_t left = doc().check().findings.size();
    while (left > 0) {
      const std::size_t before = left;
      auto* mend = child<QPushButton>("remedy0-0");
      if (!mend) break;
      mend->setFocus(Qt::TabFocusReason);
      QTest::keyClick(mend, Qt::Key_Space);
      doc().finishCheck();
      QApplication::processEvents();
      left = doc().check().findings.size();
      QVERIFY(left < before);
      if (left > 0) QVERIFY(child<QWidget>("finding0")->hasFocus());
    }
    QCOMPARE(left, std::size_t(0));
    QVERIFY(bench()->hasFocus());  // there is no finding any more
  }
  void aMendByMouseLeavesTheKeysToTheBench() {
    open(faulty(true));
    bench()->setFocus();
    QTest::mouseClick(child<QPushButton>("remedy0-0"), Qt::LeftButton);
    doc().finishCheck();
    QApplication::processEvents();
    QVERIFY(bench()->hasFocus());
    QTest::keyClick(QApplication::focusWidget(), Qt::Key_P);
    QVERIFY(window_->runControl().isOn());
  }
  void theListStaysWhereItWas() {
    Bench bench;
    for (int i = 0; i < 14; ++i)
      bench.led("led" + std::to_string(i), "a" + std::to_string(2 * i + 1),
                "j" + std::to_string(2 * i + 1));
    open(bench);
    auto* bar = pane()->findChild<QScrollArea*>()->verticalScrollBar();
    QTRY_VERIFY(bar->maximum() > 400);
    bar->setValue(300);
    // The last one goes; what is seen stays.
    doc().edit("remove", edits::remove(doc().project(), {"led13"}));
    doc().finishCheck();
    QApplication::processEvents();
    QCOMPARE(bar->value(), 300);
    child<QWidget>("finding2")->setFocus();
    bar->setValue(300);
    doc().edit("remove", edits::remove(doc().project(), {"led12"}));
    doc().finishCheck();
    QApplication::processEvents();
    QCOMPARE(bar->value(), 300);
    QVERIFY(child<QWidget>("finding2")->hasFocus());
  }

  // ---- meant so
  void whatIsMeantStaysGreyAndInTheFile() {
    open(faulty());
    const std::string title = inWords(doc().check().findings[0].title);
    auto* meant = child<QPushButton>("meant0");
    meant->setFocus();
    QTest::keyClick(meant, Qt::Key_Space);
    doc().finishCheck();
    const auto& all = doc().check().findings;
    std::size_t at = 0;
    while (at < all.size() && inWords(all[at].title) != title) ++at;
    QVERIFY(at < all.size() && all[at].meant);
    const std::string n = std::to_string(at);
    QVERIFY(!child<QPushButton>("remedy" + n + "-0"));
    QCOMPARE(child<QPushButton>("meant" + n)->text(), QString("Check it again"));
    QVERIFY(readProject(writeProject(doc().project())).project == doc().project());
    QTest::mouseClick(child<QPushButton>("meant" + n), Qt::LeftButton);
    doc().finishCheck();
    QCOMPARE(inWords(doc().check().findings[0].title), title);
    QVERIFY(!doc().check().findings[0].meant);
  }
  void everythingIsReachedWithTheTabKey() {
    open(faulty(true));
    QStringList wanted, seen;
    for (QWidget* w : pane()->findChildren<QWidget*>())
      if (w->isVisible() && (w->focusPolicy() & Qt::TabFocus) && !w->objectName().isEmpty() &&
          (w->objectName().startsWith("finding") || qobject_cast<QPushButton*>(w)))
        wanted << w->objectName();
    QVERIFY(wanted.size() > 6);
    child<QWidget>("finding0")->setFocus(Qt::TabFocusReason);
    for (int i = 0; i < 200 && QApplication::focusWidget(); ++i) {
      if (pane()->isAncestorOf(QApplication::focusWidget()))
        seen << QApplication::focusWidget()->objectName();
      QTest::keyClick(QApplication::focusWidget(), Qt::Key_Tab);
    }
    for (const QString& name : wanted) QVERIFY2(seen.contains(name), qPrintable(name));
  }
  // A mend with the focus shows itself on the bench, and stops to when the focus goes: also
  // when it goes because the window does.
  void theWindowClosesWithAMendInFocus() {
    open(faulty());
    child<QPushButton>("remedy0-0")->setFocus(Qt::TabFocusReason);
    QVERIFY(bench()->isPreviewing());
    QSignalSpy stops(pane(), &FindingsPane::previewWanted);
    window_->close();
    QVERIFY(stops.count() > 0);
    QVERIFY(!bench()->isPreviewing());
    window_.reset();
    window_ = openWindow(answers_);
    open(faulty());
    child<QPushButton>("remedy0-0")->setFocus(Qt::TabFocusReason);
    window_.reset();  // without a word before
  }
  // Very many: the gravest at once, the others when they are asked for, by button or by mark.
  void veryManyFindingsAreShownOnDemand() {
    Project p = emptyProject();
    p.breadboards[0].type = "full";
    for (int i = 0; i < 42; ++i) {
      Part led = newPart(p, *catalogue().partKind("led"));
      const std::string column = i % 2 ? "a" : "g";
      const int row = 1 + 3 * (i / 2);
      led.legs[0].in = Socket{"bb", column + std::to_string(row)};
      led.legs[1].in = Socket{"bb", column + std::to_string(row + 2)};
      p = edits::addPart(std::move(p), std::move(led));
    }
    open(p);
    const int count = static_cast<int>(doc().check().findings.size());
    QVERIFY(count > 41);
    QVERIFY(child<QWidget>("finding39") && !child<QWidget>("finding40"));
    auto* more = child<QPushButton>("moreFindings");
    QCOMPARE(more->text(), QString("Show %1 more").arg(count - 40));
    more->setFocus();
    QTest::keyClick(more, Qt::Key_Space);
    QVERIFY(child<QWidget>("finding" + std::to_string(count - 1)));
    QVERIFY(!child<QPushButton>("moreFindings"));
    open(emptyProject());
    QVERIFY(!child<QWidget>("finding0"));
    open(p);
    QVERIFY(!child<QWidget>("finding40"));
    pane()->showFinding(count - 1);  // its mark was clicked
    QVERIFY(child<QWidget>("finding" + std::to_string(count - 1))->hasFocus());
  }
  // Aside of one mark there may be another one, also the very first.
  void marksGoRoundAllOthers() {
    std::vector<Finding> findings(3);
    const char* holes[] = {"b9", "a9", "a9"};
    for (std::size_t i = 0; i < findings.size(); ++i) findings[i].mark = Socket{"bb", holes[i]};
    const std::vector<QPointF> places = markPlaces(emptyProject(), findings);
    for (std::size_t i = 0; i < places.size(); ++i)
      for (std::size_t k = 0; k < i; ++k) QVERIFY(QLineF(places[i], places[k]).length() >= 14);
  }
  // Two findings about one part: both marks are seen, and each leads to its own.
  void marksStandBesideEachOther() {
    // So much is open that each is told by itself.
    open(readWiring("motor j22 j24\nwire D6 f22\nwire j25 GND3\nred led i11 i9\n220 c9 h9\n"
                    "wire D4 a9\nwire j11 GND\nbutton e18\nwire 5V a18\nwire D2 a20\n"
                    "green led i14 i16\nwire D5 j14\nwire j16 GND2\n"
                    "Round and round:\n  set d4 D2\n  set d5 D2\n  set d6 D2\n  wait 0.1\n")
             .project);
    const auto& findings = doc().check().findings;
    QVERIFY(findings.size() >= 2);
    const std::vector<QPointF> places = markPlaces(doc().project(), findings);
    for (std::size_t i = 0; i < places.size(); ++i)
      for (std::size_t k = 0; k < i; ++k) QVERIFY(QLineF(places[i], places[k]).length() >= 14);
    bench()->fit();
    const QRectF motor = bench()->screenOfPart("motor1");
    int beside = 0;
    for (std::size_t i = 0; i < findings.size(); ++i) {
      if (findings[i].parts.empty() || findings[i].parts.front() != "motor1") continue;
      const QPoint mark(qRound(motor.right() + (15 + 21 * beside++) * bench()->zoom()),
                        qRound(motor.center().y()));
      QTest::mouseMove(bench(), mark);
      QTest::mouseClick(bench(), Qt::LeftButton, {}, mark);
      QVERIFY(child<QWidget>("finding" + std::to_string(i))->hasFocus());
    }
    QCOMPARE(beside, 2);
  }
  // Many findings: the list scrolls, the head and the foot stay.
  void manyFindingsScroll() {
    Bench bench;
    for (int i = 0; i < 28; ++i)
      bench.led("led" + std::to_string(i), "a" + std::to_string(i + 1),
                "j" + std::to_string(i + 1));
    window_->resize(1024, 700);
    open(bench);
    QVERIFY(doc().check().findings.size() >= 28);
    auto* bar = pane()->findChild<QScrollArea*>()->verticalScrollBar();
    QTRY_VERIFY(bar->maximum() > 1000);
    QTRY_VERIFY2(everythingCutOff().isEmpty(), qPrintable(everythingCutOff()));
    QVERIFY(child<QLabel>("findingsHead")->isVisible());
    // The last one, by its mark: it comes into view.
    const int last = static_cast<int>(doc().check().findings.size()) - 1;
    pane()->showFinding(last);
    QApplication::processEvents();
    QWidget* card = child<QWidget>("finding" + std::to_string(last));
    QVERIFY(card->hasFocus());
    const QRect view = pane()->findChild<QScrollArea*>()->viewport()->rect();
    const QPoint at = card->mapTo(pane()->findChild<QScrollArea*>()->viewport(), QPoint(5, 5));
    QVERIFY(view.contains(at));
  }
  // By keys one comes to a card's buttons as they are read: what mends it first.
  void buttonsAreReachedAsTheyAreRead() {
    open(faulty());
    for (const int width : {1024, 1600}) {
      window_->resize(width, 800);
      settle();
      child<QWidget>("finding0")->setFocus();
      for (const char* next : {"remedy0-0", "showMe0", "why0", "meant0"}) {
        QTest::keyClick(QApplication::focusWidget(), Qt::Key_Tab);
        QCOMPARE(QApplication::focusWidget()->objectName(), QString(next));
      }
    }
  }
  // However wide the pane is, and was when its cards were laid out, nothing sticks out of it.
  void nothingSticksOut() {
    const auto sticksOut = [&]() -> QString {
      const auto* scroll = pane()->findChild<QScrollArea*>();
      const int most = scroll->viewport()->width();
      for (const QAbstractButton* button : scroll->widget()->findChildren<QAbstractButton*>()) {
        if (!button->isVisible()) continue;
        const int right = button->mapTo(scroll->widget(), QPoint(button->width(), 0)).x();
        if (right > most) return button->text() + QString(" %1 of %2").arg(right).arg(most);
      }
      return scroll->widget()->width() > most
                 ? QString("%1 of %2").arg(scroll->widget()->width()).arg(most)
                 : QString();
    };
    for (const char* rule : {"variable-unused", "bounce", "motor-on-pin", "input-floating"}) {
      const std::vector<std::string> cases = casesOf(rule);
      QVERIFY(!cases.empty());
      window_->setStation(Station::program);
      window_->resize(1600, 900);
      QApplication::processEvents();
      open(readWiring(cases.front()).project);
      for (const int width : {1600, 1280, 1024, 1400, 1100}) {
        window_->resize(width, 800);
        settle();
        QVERIFY2(sticksOut().isEmpty(),
                 qPrintable(QString("%1 at %2: %3").arg(rule).arg(width).arg(sticksOut())));
      }
    }
  }
};

QTEST_MAIN(TestFindingsPane)
#include "tst_findings_pane.moc"
