#include <QtTest>

#include "text/message.h"

using namespace ignavo;

// What is said, and how it becomes the words of a language.
class TestMessage : public QObject {
  Q_OBJECT
  static std::string backwards(const std::string& context, const std::string& english) {
    if (context == "lamp" && english == "{} gets {} through {}") return "{2}: {1} → {0}";
    if (context == "list" && english == "{} and {}") return "{} + {}";
    if (context == "unit" && english == "{} mA") return "{} milliampère";
    if (english == "broken {}") return "{7} {";
    return {};
  }

 private Q_SLOTS:
  void placesAreFilled() {
    const Say say("lamp");
    const Message m = say("{} gets {} through {}", "Red lamp", asAmps(0.0914), "R1");
    QCOMPARE(inWords(m), std::string("Red lamp gets 91 mA through R1"));
    // Another language may turn it round, and has its own units.
    QCOMPARE(inWords(m, backwards), std::string("R1: 91 milliampère → Red lamp"));
    // What stands in a place is not looked at: it is text of users.
    QCOMPARE(inWords(say("{} gets {} through {}", "{0} {", 3, "}")),
             std::string("{0} { gets 3 through }"));
  }
  // Times have the unit that they are told in best, also where they are rounded up to the next.
  void timesHaveTheirUnit() {
    for (const auto& [seconds, told] :
         {std::pair{0.0, "0 µs"}, std::pair{188e-9, "188 ns"}, std::pair{0.9996e-6, "1 µs"},
          std::pair{35.4e-6, "35 µs"}, std::pair{0.9996e-3, "1 ms"}, std::pair{0.25, "250 ms"},
          std::pair{0.99999, "1 s"}, std::pair{2.314, "2.31 s"}, std::pair{999.7, "1000 s"},
          std::pair{86400.0, "86400 s"}})
      QCOMPARE(inWords(asSeconds(seconds)), std::string(told));
  }
  void severalAreTold() {
    const Say say("lamp");
    const auto told = [&](const std::vector<std::string>& names) {
      return inWords(say("{}", names));
    };
    QCOMPARE(told({}), std::string());
    QCOMPARE(told({"A"}), std::string("A"));
    QCOMPARE(told({"A", "B"}), std::string("A and B"));
    QCOMPARE(told({"A", "B", "C"}), std::string("A, B and C"));
    QCOMPARE(inWords(say("{}", std::vector<std::string>{"A", "B", "C"}), backwards),
             std::string("A, B + C"));
    // Messages in places.
    const Place::Several ways{say("{} is held", "Call button"), say("{} is up", "Bell button")};
    QCOMPARE(inWords(say("dark while {}", ways)),
             std::string("dark while Call button is held and Bell button is up"));
  }
  void quantities_data() {
    QTest::addColumn<QString>("is");
    QTest::addColumn<QString>("wanted");
    const auto row = [](Quantity q, const char* wanted) {
      QTest::newRow(wanted) << QString::fromStdString(inWords(q)) << QString::fromUtf8(wanted);
    };
    row(asAmps(0.0914), "91 mA");
    row(asAmps(-0.0004), "0.4 mA");
    row(asAmps(0.00005), "0.1 mA");
    row(asAmps(0.000049), "49 µA");
    row(asAmps(5e-7), "0.5 µA");
    row(asAmps(1e-12), "0.0 mA");
    row(asAmps(0.9995), "1.0 A");
    row(asAmps(12.3), "12 A");
    row(asVolts(5), "5 V");
    row(asVolts(4.55), "4.5 V");
    row(asVolts(-0.2), "-0.2 V");
    row(asWatts(0.45), "450 mW");
    row(asWatts(3.2), "3.2 W");
    row(asNumber(0.25), "0.25");
    row(asNumber(0.0512, 2), "0.051");
  }
  void quantities() {
    QFETCH(QString, is);
    QFETCH(QString, wanted);
    QCOMPARE(is, wanted);
  }
  void whatDoesNotFitStaysEnglish() {
    const Message m("lamp", "broken {}", {Place("x")});
    QCOMPARE(inWords(m, backwards), std::string("broken x"));
  }
  void asItIs() {
    QCOMPARE(inWords(Message("a {} b {")), std::string("a {} b {"));
    QVERIFY(Message(std::string()).empty() && Message().empty());
    Sentences s = Message("One.");
    s.add(Message()).add(Say("x")("Two {}.", 2));
    QCOMPARE(inWords(s), std::string("One. Two 2."));
    QVERIFY(s == Sentences("One.").add(Say("x")("Two {}.", 2)));
  }
};

QTEST_APPLESS_MAIN(TestMessage)
#include "tst_message.moc"
