#include <QtTest>
#include <random>

#include "avr/hex.h"

using namespace ignavo::avr;
using Code = HexImage::Code;

// Intel HEX: what is right is read, and what is wrong is told with its line.
class TestAvrHex : public QObject {
  Q_OBJECT

  static std::string program(std::size_t bytes) {
    std::mt19937 random(5);
    std::vector<std::uint8_t> out(bytes);
    for (auto& b : out) b = static_cast<std::uint8_t>(random());
    return hexOf(out);
  }

 private Q_SLOTS:
  void thereAndBack() {
    for (const std::size_t bytes : {1U, 15U, 16U, 17U, 162U, 32768U, 70000U}) {
      const std::string text = program(bytes);
      const HexImage image = readHex(text, 100'000);
      QCOMPARE(image.code, Code::done);
      QCOMPARE(hexOf(image.bytes), text);
      QCOMPARE(readHex(text, bytes).code, Code::done);
      QCOMPARE(readHex(text, bytes - 1).code, Code::beyondFlash);
    }
  }

  void whatIsWrong_data() {
    QTest::addColumn<QString>("text");
    QTest::addColumn<int>("code");
    QTest::addColumn<int>("line");
    const auto row = [](const char* name, const char* text, Code code, int line) {
      QTest::newRow(name) << QString(text) << static_cast<int>(code) << line;
    };
    row("fine", ":0100000055AA\n:00000001FF\n", Code::done, 2);
    row("ends of lines", ":0100000055AA\r\n\r\n:00000001FF\r\n", Code::done, 3);
    row("small letters", ":0100000055aa\n:00000001ff", Code::done, 2);
    row("behind the end", ":0100000055AA\n:00000001FF\nnonsense\n", Code::done, 2);
    row("segment", ":020000020010EC\n:0100000055AA\n:00000001FF\n", Code::done, 3);
    row("begin address", ":0400000300000000F9\n:0100000055AA\n:00000001FF\n", Code::done, 3);
    row("nothing", "", Code::noEnd, 0);
    row("no program", ":00000001FF\n", Code::empty, 1);
    row("no HEX", "PK\003\004", Code::notARecord, 1);
    row("no digit", ":0100000055AG\n", Code::notARecord, 1);
    row("wrong sum", ":0100000055AB\n:00000001FF\n", Code::wrongSum, 1);
    row("shorter", ":0200000055A9\n:00000001FF\n", Code::cut, 1);
    row("half a byte", ":0100000055A\n", Code::cut, 1);
    row("only a colon", ":\n", Code::cut, 1);
    row("kind", ":0100000955A1\n:00000001FF\n", Code::wrongKind, 1);
    row("address of one byte", ":0100000401FA\n", Code::cut, 1);
    row("beyond", ":020000040001F9\n:0100000055AA\n:00000001FF\n", Code::beyondFlash, 2);
    row("twice", ":0100000055AA\n:0100000056A9\n:00000001FF\n", Code::twice, 2);
    row("twice the same", ":0100000055AA\n:0100000055AA\n:00000001FF\n", Code::done, 3);
  }
  void whatIsWrong() {
    QFETCH(QString, text);
    QFETCH(int, code);
    QFETCH(int, line);
    const HexImage image = readHex(text.toStdString(), 0x8000);
    QCOMPARE(static_cast<int>(image.code), code);
    QCOMPARE(image.line, line);
    QCOMPARE(image.bytes.empty(), image.code != Code::done);
  }

  // Cut anywhere, or with any digit changed, it is never taken for whole.
  void cutAndChanged() {
    const std::string text = program(162);
    for (std::size_t k = 0; k + 2 < text.size(); ++k)
      QVERIFY(readHex(text.substr(0, k), 0x8000).code != Code::done);
    for (std::size_t k = 0; k < text.size(); ++k) {
      if (text[k] == '\n') continue;
      for (const char c : {'0', '7', 'F', 'x', ':'}) {
        if (text[k] == c) continue;
        std::string changed = text;
        changed[k] = c;
        const HexImage image = readHex(changed, 0x8000);
        QVERIFY2(image.code != Code::done, changed.c_str());
        QVERIFY(image.bytes.empty());
      }
    }
  }
};

QTEST_GUILESS_MAIN(TestAvrHex)
#include "tst_avr_hex.moc"
