#include <QtTest>
#include <cmath>
#include <optional>

#include "program/facts.h"
#include "program/program_layout.h"
#include "support/build.h"
#include "support/random_programs.h"

using namespace ignavo;
using namespace ignavo::app;
using namespace ignavo::test;

namespace {

QString named(const std::string& pin) {
  return pin == "D2" ? QStringLiteral("Call button of the far landing") : QString();
}

// As deep and as odd as the language allows, all kinds of lanes.
Project randomProject(unsigned seed) {
  Bench bench;
  for (const std::string& name : RandomProgram::names()) bench.name(name);
  RandomProgram writer(seed);
  for (const auto& [sign, steps] : writer.own()) bench.lane(sign, steps);
  for (const auto& [sign, steps] : writer.lanes()) bench.lane(sign, steps);
  return bench;
}

struct Segment {
  QPointF a, b;
  const RailPiece* piece;
  bool level() const { return std::abs(a.y() - b.y()) < 0.01; }
};
std::vector<Segment> segmentsOf(const ProgramPicture& picture) {
  std::vector<Segment> out;
  for (const RailPiece& piece : picture.rails)
    for (std::size_t i = 1; i < piece.points.size(); ++i)
      out.push_back({piece.points[i - 1], piece.points[i], &piece});
  return out;
}

// Where one runs straight over the other, well inside both.
std::optional<QPointF> crossing(const Segment& s, const Segment& t) {
  if (s.piece == t.piece || !s.level() || t.level()) return std::nullopt;
  const QPointF at(t.a.x(), s.a.y());
  const auto within = [](double v, double a, double b) {
    return v > std::min(a, b) + 1 && v < std::max(a, b) - 1;
  };
  if (!within(at.x(), s.a.x(), s.b.x()) || !within(at.y(), t.a.y(), t.b.y())) return std::nullopt;
  return at;
}

bool isCard(const ProgramRow& row) {
  return row.what == ProgramRow::What::step || row.what == ProgramRow::What::branch ||
         row.what == ProgramRow::What::folded || row.what == ProgramRow::What::empty;
}

QString placed(unsigned seed, double width, const QRectF& box) {
  return QString("seed %1, width %2: %3 %4 %5 %6")
      .arg(seed)
      .arg(width)
      .arg(box.x())
      .arg(box.y())
      .arg(box.width())
      .arg(box.height());
}

}  // namespace

// Programs laid out as rails: laws over random ones, in every width.
class TestRails : public QObject {
  Q_OBJECT
 private Q_SLOTS:
  // No card covers another, no rail runs through a card, every crossing is a bridge, and all of it
  // is inside the picture.
  void nothingCoversAnything() {
    int bridges = 0, beside = 0, threads = 0, folded = 0, opened = 0;
    for (unsigned seed = 1; seed <= 120; ++seed) {
      const Project p = randomProject(seed);
      for (const double width : {430.0, 640.0, 1000.0, 1700.0}) {
        const Folding folds = [&](const Step& s, int level) {
          return level >= 2 && !s.bodies.empty() && seed % 3 == 0;
        };
        // One row is open to be typed in.
        std::vector<edits::StepPlace> places;
        for (const auto& lane : p.programs[0]->lanes)
          forEachStep(lane->steps, [&](const Step& s) {
            places.push_back(edits::placeOf(p, s.id));
            places.back().index += seed % 2;
          });
        const edits::StepPlace* open = places.empty() ? nullptr : &places[seed * 7 % places.size()];
        const ProgramPicture picture = layOutProgram(
            *p.programs[0], width, named, seed % 3 == 0 ? folds : foldsByItself, nullptr, open);
        for (std::size_t i = 0; i < picture.rows.size(); ++i) {
          const ProgramRow& row = picture.rows[i];
          QVERIFY2(
              row.box.left() >= 0 && row.box.right() <= width && row.box.bottom() <= picture.height,
              qPrintable(placed(seed, width, row.box)));
          for (std::size_t k = 0; k < i; ++k) {
            const QRectF both = row.box.intersected(picture.rows[k].box);
            QVERIFY2(both.width() < 1 || both.height() < 1,
                     qPrintable(placed(seed, width, row.box)));
            beside += row.what == ProgramRow::What::sign &&
                      picture.rows[k].what == ProgramRow::What::sign &&
                      row.box.left() > picture.rows[k].box.right();
          }
          threads += row.what == ProgramRow::What::thread;
          folded += row.what == ProgramRow::What::folded;
          opened += row.what == ProgramRow::What::open;
          // Fields lie in their row, and none over another but those that an operator holds.
          for (const Token& t : row.tokens)
            if (t.isField() || row.what == ProgramRow::What::step)
              QVERIFY2(row.box.adjusted(-1, -1, 1, 1).contains(t.box) && t.box.width() >= 2,
                       qPrintable(placed(seed, width, t.box) + " " + t.text));
        }
        const std::vector<Segment> segments = segmentsOf(picture);
        for (const Segment& s : segments) {
          for (const ProgramRow& row : picture.rows) {
            if (!isCard(row)) continue;
            const QRectF line = QRectF(s.a, s.b).normalized().adjusted(-0.5, -0.5, 0.5, 0.5);
            QVERIFY2(!line.intersects(row.box.adjusted(2, 2, -2, -2)),
                     qPrintable(placed(seed, width, row.box)));
          }
          for (const Segment& t : segments)
            if (const auto at = crossing(s, t)) {
              ++bridges;
              QVERIFY2(QLineF(s.piece->under, *at).length() < 0.5,
                       qPrintable(placed(seed, width, QRectF(*at, QSizeF()))));
            }
        }
      }
    }
    QVERIFY2(bridges > 300 && beside > 50 && threads > 50 && folded > 30 && opened > 100,
             qPrintable(QString("%1 %2 %3 %4 %5")
                            .arg(bridges)
                            .arg(beside)
                            .arg(threads)
                            .arg(folded)
                            .arg(opened)));
  }
  // Lanes stand beside each other only where each has its room.
  void lanesStandBesideEachOther() {
    const Project p = Bench()
                          .lane("always", "set d4 high\nwait 1")
                          .lane("Each time D2 goes high", "flip d3")
                          .lane("Own step ring", "set d5 high");
    for (const auto& [width, columns] :
         {std::pair{700.0, 1}, {979.0, 1}, {980.0, 2}, {2200.0, 2}}) {
      const ProgramPicture picture = layOutProgram(*p.programs[0], width, named);
      std::set<int> lefts;
      double lowest = 0, rule = 0, own = 0;
      for (const ProgramRow& row : picture.rows) {
        if (row.own) own = row.box.top();
        if (row.what == ProgramRow::What::sign && !row.own)
          lefts.insert(static_cast<int>(row.box.left()));
        if (own == 0) lowest = std::max(lowest, row.box.bottom());
      }
      for (const RailPiece& piece : picture.rails)
        if (piece.what == RailPiece::What::rule) rule = piece.points.front().y();
      QCOMPARE(static_cast<int>(lefts.size()), columns);
      // Own steps stand below a rule.
      QVERIFY(lowest < rule && rule < own);
    }
  }
  // What comes in, operators, what is kept: from left to right, each with a path of its own.
  void threadsGoFromLeftToRight() {
    const Project p = Bench().lane(
        "Keep the level of D9 at choose 70 if (flips on (D2 held for 3 s)) else 0", "");
    const ProgramPicture picture = layOutProgram(*p.programs[0], 900, named);
    QStringList seen;
    for (const ProgramRow& row : picture.rows)
      if (row.what == ProgramRow::What::thread) {
        double right = 0;
        for (const Token& t : row.tokens) {
          if (t.what == Token::What::knot || t.what == Token::What::pin) {
            QVERIFY(t.box.left() > right);
            right = t.box.right();
            seen << QString::fromStdString(t.path);
          }
        }
        QCOMPARE(row.values.size(), std::size_t{4});
      } else if (row.what == ProgramRow::What::stop) {
        QCOMPARE(row.tokens.front().text,
                 QString("choose 70 if (flips on (Call button of the far landing held for 3 s)) "
                         "else 0"));
      }
    QCOMPARE(seen, (QStringList{"from/if/on/of/pin", "from/if/on", "from/if", "from", "pin"}));
    // In little room it goes on in the next line.
    const ProgramPicture narrow = layOutProgram(*p.programs[0], 340, named);
    std::set<int> lines;
    for (const ProgramRow& row : narrow.rows)
      if (row.what == ProgramRow::What::thread)
        for (const Token& t : row.tokens)
          if (t.what == Token::What::knot) lines.insert(static_cast<int>(t.box.top()));
    QVERIFY(lines.size() > 1);
  }
  // Nine deep folds by itself; a fold keeps its place, and says how much is in it.
  void whatIsTooDeepFolds() {
    std::string text;
    for (int i = 0; i < 12; ++i)
      text += std::string(2 * static_cast<std::size_t>(i), ' ') + "if d2 high\n";
    text += std::string(24, ' ') + "set d4 high\n";
    const Project p = Bench().program(text);
    const ProgramPicture picture = layOutProgram(*p.programs[0], 480, named);
    int deepest = 0;
    QString said;
    for (const ProgramRow& row : picture.rows) {
      deepest = std::max(deepest, row.level);
      if (row.what == ProgramRow::What::step) QVERIFY(row.box.width() >= 240);
      if (row.what == ProgramRow::What::folded) said = row.tokens.front().text;
    }
    QCOMPARE(deepest, rail::deepest + 1);
    QCOMPARE(said, QString("4 steps inside ▸"));
    const ProgramPicture whole =
        layOutProgram(*p.programs[0], 480, named, [](const Step&, int) { return false; });
    QVERIFY(whole.rows.size() > picture.rows.size() + 5);
  }
  // The return of the outermost loop is drawn, those of loops in it are not.
  void innerLoopsReturnQuietly() {
    const Project p = Bench().lane(
        "power", "repeat 2 times\n  repeat 3 times\n    flip d4\nrepeat 4 times\n  wait 1");
    int inner = 0, outer = 0;
    for (const RailPiece& piece : layOutProgram(*p.programs[0], 480, named).rails)
      if (piece.what == RailPiece::What::back) (piece.inner ? inner : outer)++;
    QCOMPARE(inner, 1);
    QCOMPARE(outer, 2);
  }
};

QTEST_MAIN(TestRails)
#include "tst_rails.moc"
