#include <QtTest>
#include <algorithm>
#include <random>

#include "run/pages.h"

using namespace ignavo;

// A row in pages is a row: against a plain one, and copies against what they were copied from.
class TestPages : public QObject {
  Q_OBJECT

  using Row = std::pair<Pages<int>, std::vector<int>>;
  static bool alike(const Row& row) {
    const auto& [pages, plain] = row;
    if (pages.size() != plain.size() || pages.empty() != plain.empty()) return false;
    if (!plain.empty() && (pages.front() != plain.front() || pages.back() != plain.back()))
      return false;
    for (std::size_t i = 0; i < plain.size(); ++i)
      if (pages[i] != plain[i]) return false;
    return std::equal(pages.begin(), pages.end(), plain.begin(), plain.end());
  }

 private Q_SLOTS:
  void itIsARow_data() {
    QTest::addColumn<unsigned>("seed");
    for (unsigned seed = 0; seed < 40; ++seed) QTest::addRow("%u", seed) << seed;
  }
  void itIsARow() {
    QFETCH(unsigned, seed);
    std::mt19937 random(seed);
    std::vector<Row> rows(1);
    int next = 0;
    for (int turn = 0; turn < 400; ++turn) {
      auto& [pages, plain] = rows[random() % rows.size()];
      const auto some = [&] { return random() % 4 ? random() % 3 : random() % 300; };
      switch (random() % 6) {
        case 0:
        case 1:
        case 2:
          for (std::size_t n = some() * 2; n > 0; --n) pages.push(++next), plain.push_back(next);
          break;
        case 3: {
          const std::size_t n = std::min<std::size_t>(some(), plain.size());
          pages.dropFirst(n);
          plain.erase(plain.begin(), plain.begin() + static_cast<std::ptrdiff_t>(n));
          break;
        }
        case 4: {
          const std::size_t n = plain.size() - std::min<std::size_t>(some(), plain.size());
          pages.keepFirst(n);
          plain.resize(n);
          if (!plain.empty()) pages.replaceBack(++next), plain.back() = next;
          break;
        }
        default: {
          Row copy = rows[random() % rows.size()];
          if (rows.size() < 5)
            rows.push_back(std::move(copy));
          else
            rows[random() % rows.size()] = std::move(copy);
        }
      }
      if (turn % 10 == 0)
        for (const Row& row : rows) QVERIFY(alike(row));
    }
    for (const Row& row : rows) QVERIFY(alike(row));
  }
  void itIsSearched() {
    Pages<int> pages;
    for (int i = 0; i < 1000; ++i) pages.push(2 * i);
    pages.dropFirst(10);
    for (const int value : {20, 21, 255, 256, 1998, 1999}) {
      const auto it = std::lower_bound(pages.begin(), pages.end(), value);
      QCOMPARE(it - pages.begin(), (value + 1) / 2 - 10);
    }
  }
  // All but the last page is shared.
  void copiesShare() {
    Pages<std::shared_ptr<int>> pages;
    const auto one = std::make_shared<int>(1);
    for (std::size_t i = 0; i < 1000; ++i) pages.push(one);
    const Pages<std::shared_ptr<int>> copy = pages;
    QVERIFY(one.use_count() < static_cast<long>(1001 + Pages<int>::each));
    pages.keepFirst(300);
    QCOMPARE(copy.size(), std::size_t{1000});
  }
};

QTEST_APPLESS_MAIN(TestPages)
#include "tst_pages.moc"
