#include <QImage>
#include <QtTest>
#include <cmath>
#include <random>
#include <set>
#include <tuple>

#include "art/art.h"
#include "bench/part_sprites.h"
#include "program/program_layout.h"
#include "support/build.h"
#include "theme/theme.h"

using namespace ignavo;
using namespace ignavo::app;
using namespace ignavo::test;

namespace {

Steps randomSteps(std::mt19937& random, int depth) {
  Steps steps;
  for (unsigned i = 0; i < 1 + random() % 4; ++i) {
    Step s = newStep(*stepKinds()[random() % stepKinds().size()]);
    if (Expr* pin = s.field("pin")) *pin = Expr::of("D" + std::to_string(random() % 12 + 2));
    for (auto& [key, body] : s.bodies)
      if (depth < 5 && random() % 4) body = randomSteps(random, depth + 1);
    steps.push_back(std::move(s));
  }
  return steps;
}

// How much of a picture is not its background.
int inked(const QImage& image) {
  int n = 0;
  for (int y = 0; y < image.height(); ++y)
    for (int x = 0; x < image.width(); ++x) n += image.pixelColor(x, y) == Qt::white ? 0 : 1;
  return n;
}

QImage painted(const std::function<void(QPainter&)>& paint) {
  QImage image(120, 120, QImage::Format_RGB32);
  image.fill(Qt::white);
  QPainter p(&image);
  p.translate(20, 20);
  paint(p);
  return image;
}

}  // namespace

class TestDrawing : public QObject {
  Q_OBJECT
 private Q_SLOTS:
  // Lamps that are kept as pixels look as their painters paint them, wherever they lie.
  void whatIsKeptLooksTheSame() {
    std::mt19937 random(7);
    int shining = 0, kept = 0;
    for (const PartKind* kind : catalogue().parts()) {
      if (kind->shows != Shows::light) continue;
      ++shining;
      for (int i = 0; i < 40; ++i) {
        const auto share = [&] { return static_cast<double>(random() % 256) / 255; };
        Project p = emptyProject();
        const Part part = newPart(p, *kind);
        PartLook look = sampleLook(*kind);
        look.light = i % 4 == 0 ? 0 : share();
        for (std::size_t k = 0; k < kind->lamps.size(); ++k) look.lamps.push_back(share());
        look.broken = i % 7 == 0;
        const double zoom = 0.5 + share();
        const QPointF at(60 + share() * 40, 60 + share() * 40);
        const auto on = [&](auto paint) {
          QImage image(420, 420, QImage::Format_RGB32);
          image.fill(theme().mat);
          QPainter painter(&image);
          painter.setRenderHint(QPainter::Antialiasing);
          painter.translate(at);
          painter.scale(zoom, zoom);
          paint(painter);
          return image;
        };
        const QImage wanted = on([&](QPainter& q) { painterOf(kind->type)(q, part, look); });
        PartSprites sprites;
        for (int frame = 0; frame < 4; ++frame) {
          const QImage seen =
              on([&](QPainter& q) { sprites.paint(q, part, look, painterOf(kind->type)); });
          QCOMPARE(sprites.count(), frame == 0 ? 0 : 1);
          int apart = 0;
          for (int y = 0; y < seen.height(); ++y)
            for (int x = 0; x < seen.width(); ++x) {
              const QRgb a = seen.pixel(x, y), b = wanted.pixel(x, y);
              apart = std::max({apart, std::abs(qRed(a) - qRed(b)), std::abs(qGreen(a) - qGreen(b)),
                                std::abs(qBlue(a) - qBlue(b))});
            }
          QVERIFY2(apart <= 3,
                   qPrintable(QString("%1, %2: %3").arg(kind->type.c_str()).arg(i).arg(apart)));
        }
        kept += sprites.count();
        // One that looks otherwise is painted so.
        look.light = look.light > 0.5 ? 0.1 : 0.9;
        for (double& lamp : look.lamps) lamp = 1 - lamp;
        const QImage after =
            on([&](QPainter& q) { sprites.paint(q, part, look, painterOf(kind->type)); });
        QCOMPARE(after, on([&](QPainter& q) {
                   PartLook steps = look;
                   steps.light = std::round(look.light * 255) / 255;
                   for (double& lamp : steps.lamps) lamp = std::round(lamp * 255) / 255;
                   painterOf(kind->type)(q, part, steps);
                 }));
        QCOMPARE(sprites.count(), 0);
      }
    }
    QVERIFY(shining >= 2 && kept == shining * 40);
  }
  // What is worked out first stands in brackets.
  void operatorsInOperatorsAreBracketed() {
    const auto drawn = [](const char* step) {
      const Project p = Bench().program(step);
      const ProgramPicture picture =
          layOutProgram(*p.programs[0], 900, [](const std::string&) { return QString(); });
      QStringList words;
      for (const ProgramRow& row : picture.rows)
        if (row.what == ProgramRow::What::step)
          for (const Token& token : row.tokens) {
            words << token.text;
            // A click on a field comes to the value that stands there.
            if (token.what == Token::What::value &&
                phraseOf(*edits::exprAt(*row.step, token.path)) != token.text.toStdString())
              words << "?";
          }
      return words.join(' ');
    };
    QCOMPARE(drawn("set d4 (1 + 2) × 3 > 8"), QString("set D4 ( ( 1 + 2 ) × 3 ) > 8"));
    QCOMPARE(drawn("set d4 d2 and not (d3 is low)"), QString("set D4 D2 and ( not D3 is low )"));
    QCOMPARE(drawn("wait smaller of 1 and (2 ÷ 3)"), QString("wait smaller of 1 and ( 2 ÷ 3 )"));
    QCOMPARE(drawn("dim d9 to map A0 from 0 … 50 to 0 … 100"),
             QString("dim D9 to map level of A0 from 0 … 50 to 0 … 100"));
  }
  void textIsReadable() {
    for (const bool dark : {false, true}) {
      setTheme(dark);
      const Theme& t = theme();
      for (const QColor& ground : {t.paper, t.card, t.field}) {
        for (const QColor& ink : {t.ink, t.ink2})
          QVERIFY2(contrast(ink, ground) >= 4.5, qPrintable(ground.name() + ink.name()));
      }
      for (const QColor& ink : {t.danger, t.warning, t.note, t.good})
        QVERIFY2(contrast(ink, t.card) >= 4.5, qPrintable(ink.name()));
      QVERIFY(contrast(t.inkOnDark, t.ink) >= 4.5);
      QVERIFY(contrast(t.tooltipInk, t.tooltip) >= 4.5 &&
              contrast(t.tooltipInk2, t.tooltip) >= 4.5);
      QVERIFY(contrast(t.ink, t.amberWash) >= 4.5);
      QVERIFY(contrast(t.boardPrint, t.board) >= 4.5);
      for (int i = 0; i < 10; ++i) {
        const NetColour c{NetColour::Kind::pin, i};
        QVERIFY2(contrast(t.netInk(c), t.net(c)) >= 4.5,
                 identityNames()[static_cast<std::size_t>(i)].c_str());
      }
    }
    setTheme(false);
  }
  // What is no text is seen as well: edges of fields, rails that are not gone along, and the
  // colours of pins with what goes round them.
  void edgesAndPinsAreSeen() {
    for (const bool dark : {false, true}) {
      setTheme(dark);
      const Theme& t = theme();
      for (const QColor& ground : {t.paper, t.card, t.field, t.mat}) {
        QVERIFY2(contrast(t.edge, ground) >= seenContrast, qPrintable(ground.name()));
        for (int i = 0; i < 10; ++i) {
          const NetColour c{NetColour::Kind::pin, i};
          const QColor casing = t.casing(c, ground);
          QVERIFY(contrast(casing.isValid() ? casing : t.net(c), ground) >= seenContrast);
        }
      }
      QVERIFY(contrast(t.edge, t.ink) > 2);  // a faded rail is told from one that was taken
      QVERIFY(t.casing({NetColour::Kind::pin, dark ? 4 : 8}, t.card).isValid());
    }
    setTheme(false);
  }
  // An unlit lamp is darker than a lit one, of every colour, by day and by night.
  void unlitLampsAreDarker() {
    for (const bool dark : {false, true}) {
      setTheme(dark);
      for (const std::string& colour : catalogue().partKind("led")->props.front().choices) {
        Part part = newPart(emptyProject(), *catalogue().partKind("led"));
        part.setProp("colour", colour);
        const auto brightness = [&](double light) {
          const QImage image = painted([&](QPainter& p) {
            paintLed(p, part, {{QPointF(40, 20), QPointF(40, 54)}, light});
          });
          double sum = 0;
          for (int y = 52; y < 62; ++y)
            for (int x = 55; x < 65; ++x) sum += qGray(image.pixel(x, y));
          return sum / 100;
        };
        QVERIFY2(brightness(0) < 0.85 * brightness(1), colour.c_str());
        QVERIFY(brightness(0) < brightness(0.5));
      }
    }
    setTheme(false);
  }
  // What an event starts ends at a buffer stop; only what goes round has a return.
  void onlyLanesThatGoRoundComeBack() {
    for (const TriggerKind& kind : triggerKinds()) {
      Program program;
      Lane lane;
      lane.id = "l1";
      lane.trigger = newTrigger(kind, kind.slot("pin") ? "D2" : "");
      lane.steps = parseSteps("set d4 high\nwait 1\nset d4 low").steps;
      program.lanes.emplace_back(lane);
      const ProgramPicture picture =
          layOutProgram(program, 480, [](const std::string&) { return QStringLiteral("Bell"); });
      const auto pieces = [&](RailPiece::What what) {
        return std::count_if(picture.rails.begin(), picture.rails.end(),
                             [&](const RailPiece& p) { return p.what == what; });
      };
      const bool waits = kind.startsAgain();
      QCOMPARE(pieces(RailPiece::What::back), kind.endless ? 1 : 0);
      QCOMPARE(pieces(RailPiece::What::stop), waits || kind.own ? 1 : 0);
      for (const ProgramRow& row : picture.rows)
        if (row.what == ProgramRow::What::stop && kind.edge != TriggerKind::Edge::none)
          QCOMPARE(row.tokens.front().text,
                   kind.edge == TriggerKind::Edge::rise
                       ? QStringLiteral("waits until Bell goes high again")
                       : QStringLiteral("waits until Bell goes low again"));
    }
  }
  // Wherever two rails cross, the lower one knows where it goes under.
  void crossingsAreBridges() {
    std::mt19937 random(12);
    int bridges = 0;
    for (int round = 0; round < 60; ++round) {
      Program program;
      Lane lane;
      lane.id = "l1";
      lane.trigger.on = "always";
      lane.steps = randomSteps(random, 2);
      program.lanes.emplace_back(lane);
      const ProgramPicture picture =
          layOutProgram(program, 600, [](const std::string&) { return QString(); });
      struct Segment {
        QPointF a, b;
        const RailPiece* piece;
      };
      std::vector<Segment> segments;
      for (const RailPiece& piece : picture.rails)
        for (std::size_t i = 1; i < piece.points.size(); ++i)
          segments.push_back({piece.points[i - 1], piece.points[i], &piece});
      for (const Segment& s : segments)
        for (const Segment& t : segments) {
          const bool level = std::abs(s.a.y() - s.b.y()) < 0.01,
                     upright = std::abs(t.a.x() - t.b.x()) < 0.01;
          if (s.piece == t.piece || !level || !upright) continue;
          const QPointF at(t.a.x(), s.a.y());
          const auto within = [](double v, double a, double b) {
            return v > std::min(a, b) + 1 && v < std::max(a, b) - 1;
          };
          if (!within(at.x(), s.a.x(), s.b.x()) || !within(at.y(), t.a.y(), t.b.y())) continue;
          ++bridges;
          QVERIFY2(QLineF(s.piece->under, at).length() < 0.5,
                   qPrintable(QString("round %1 at %2, %3").arg(round).arg(at.x()).arg(at.y())));
        }
    }
    QVERIFY(bridges > 30);
  }
  // Any program: one card a step, in order, none over another, all within the width.
  void cardsNeverOverlap() {
    std::mt19937 random(6);
    for (int round = 0; round < 150; ++round) {
      Program program;
      for (unsigned l = 0; l < 1 + random() % 3; ++l) {
        Lane lane;
        lane.id = "l" + std::to_string(l);
        lane.trigger.on = random() % 2 ? "always" : "power";
        lane.steps = randomSteps(random, 0);
        program.lanes.emplace_back(lane);
      }
      int id = 0;
      const std::function<void(Steps&)> number = [&](Steps& steps) {
        for (Step& s : steps) {
          s.id = "s" + std::to_string(++id);
          for (auto& [key, body] : s.bodies) number(body);
        }
      };
      for (auto& lane : program.lanes) number(lane.edit().steps);
      const double width = 340 + static_cast<double>(random() % 500);
      const ProgramPicture picture = layOutProgram(program, width, [](const std::string& pin) {
        return pin == "D4" ? QStringLiteral("A lamp with quite a long name indeed") : QString();
      });
      int cards = 0;
      double bottom = 0;
      for (const ProgramRow& row : picture.rows) {
        QVERIFY2(row.box.top() >= bottom - 0.01, qPrintable(QString("round %1").arg(round)));
        bottom = row.box.bottom();
        QVERIFY(row.box.bottom() <= picture.height + 1);
        if (row.what != ProgramRow::What::step) continue;
        ++cards;
        QVERIFY(row.box.right() <= width && row.box.left() > row.dotX);
        QVERIFY(row.dotY > row.box.top() && row.dotY < row.box.bottom());
        for (const Token& t : row.tokens)
          if (t.isField()) {
            QVERIFY(row.box.contains(t.box.center()));
            const SlotKind* slot = stepKind(row.step->kind)->slot(t.path);
            QVERIFY2(edits::exprAt(*row.step, t.path) || (slot && slot->optional), t.path.c_str());
          }
      }
      QCOMPARE(cards, id);
      // Every place in every list can be dropped on exactly once.
      std::set<std::tuple<std::string, std::string, std::string, std::size_t>> places;
      for (const ProgramGap& gap : picture.gaps)
        QVERIFY(places.insert({gap.place.lane, gap.place.parent, gap.place.body, gap.place.index})
                    .second);
      std::size_t expected = 0;
      const std::function<void(const Steps&)> count = [&](const Steps& steps) {
        expected += steps.size() + 1;
        for (const Step& s : steps)
          for (const auto& [key, body] : s.bodies) count(body);
      };
      for (const auto& lane : program.lanes) count(lane->steps);
      QCOMPARE(places.size(), expected);
      for (const RailPiece& piece : picture.rails)
        for (std::size_t i = 1; i < piece.points.size(); ++i) {  // rails go straight down or across
          const QPointF d = piece.points[i] - piece.points[i - 1];
          QVERIFY(std::abs(d.x()) < 0.01 || std::abs(d.y()) < 0.01);
        }
    }
  }
  // The yes-branch leaves by the gutter and joins below the no-branch.
  void forksJoinBelow() {
    const Project p = Bench().program("if d2 high\n  wait 1\notherwise\n  wait 2\nwait 3\n");
    const ProgramPicture picture =
        layOutProgram(*p.programs[0], 480, [](const std::string&) { return QString(); });
    const auto dot = [&](const char* phrase) {
      for (const ProgramRow& row : picture.rows)
        if (row.what == ProgramRow::What::step && phraseOf(*row.step) == phrase)
          return QPointF(row.dotX, row.dotY);
      return QPointF();
    };
    double lowestYes = 0, leftmostYes = 1e9;
    for (const RailPiece& piece : picture.rails)
      if (piece.what == RailPiece::What::yes)
        for (const QPointF& point : piece.points) {
          lowestYes = std::max(lowestYes, point.y());
          leftmostYes = std::min(leftmostYes, point.x());
        }
    QVERIFY(lowestYes > dot("wait 2 s").y() && lowestYes < dot("wait 3 s").y());
    QVERIFY(leftmostYes < dot("wait 3 s").x());
    QCOMPARE(dot("wait 1 s").x(), dot("wait 2 s").x());
    QCOMPARE(dot("wait 1 s").x() - dot("wait 3 s").x(), rail::indent);
  }
  void everyPartHasItsPicture() {
    for (const PartKind* kind : catalogue().parts()) {
      const PartPainter painter = painterOf(kind->type);
      QVERIFY2(painter, kind->type.c_str());
      Part part = newPart(emptyProject(), *kind);
      for (const auto& way : kind->print.orientations) {
        PartLook look;
        for (const Point& o : way) look.legs.push_back(QPointF(40 + o.x * 10, 40 + o.y * 10));
        const QImage plain = painted([&](QPainter& p) { painter(p, part, look); });
        QVERIFY2(inked(plain) > 150, kind->type.c_str());
        QVERIFY(bodyOf(part, look).isValid());
        look.broken = true;
        if (kind->shows == Shows::light)
          QVERIFY(painted([&](QPainter& p) { painter(p, part, look); }) != plain);
      }
      const QImage portrait =
          painted([&](QPainter& p) { paintPortrait(p, part, QRectF(-20, -20, 120, 120)); });
      QVERIFY(inked(portrait) > 200);
    }
  }
  void lampsGlowWithTheirLight() {
    Part part = newPart(emptyProject(), *catalogue().partKind("led"));
    int last = 0;
    for (const double light : {0.0, 0.3, 0.6, 1.0}) {
      PartLook look{{QPointF(40, 20), QPointF(40, 54)}, light};
      const int ink = inked(painted([&](QPainter& p) { paintLed(p, part, look); }));
      QVERIFY(ink > last);
      last = ink;
    }
  }
  void pressedCapsAndMarksDiffer() {
    Part part = newPart(emptyProject(), *catalogue().partKind("button"));
    PartLook look{{QPointF(20, 20), QPointF(71, 20), QPointF(20, 54), QPointF(71, 54)}};
    const QImage up = painted([&](QPainter& p) { paintButton(p, part, look); });
    look.pressed = true;
    QVERIFY(painted([&](QPainter& p) { paintButton(p, part, look); }) != up);
    QList<QImage> marks;
    for (const Severity s : {Severity::note, Severity::warning, Severity::danger})
      marks << painted([&](QPainter& p) { paintMark(p, QPointF(40, 40), s, 1, 40); });
    // Shapes, not only colours: the inked areas differ.
    QVERIFY(std::abs(inked(marks[0]) - inked(marks[1])) > 50 &&
            std::abs(inked(marks[1]) - inked(marks[2])) > 50);
  }
  void wiresEndInTheirHoles() {
    std::mt19937 random(3);
    for (int i = 0; i < 300; ++i) {
      const auto at = [&] {
        return QPointF(static_cast<double>(random() % 600), static_cast<double>(random() % 600));
      };
      const QPointF a = at(), b = at();
      std::vector<QPointF> bends;
      for (unsigned k = 0; k < random() % 4; ++k) bends.push_back(at());
      const QPainterPath path = wirePath(a, b, bends);
      QVERIFY(QLineF(path.pointAtPercent(0), a).length() < 0.5);
      QVERIFY(QLineF(path.pointAtPercent(1), b).length() < 0.5);
    }
  }
};

QTEST_MAIN(TestDrawing)
#include "tst_drawing.moc"
