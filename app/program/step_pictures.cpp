#include "program/step_pictures.h"

#include <QPainterPath>
#include <array>

// Small line drawings of what a step does to its pin, its lane or what it remembers: levels as a
// trace would show them, lanes as rails. All in a square of 24.
namespace ignavo::app {

namespace {

using Points = std::initializer_list<QPointF>;

void line(QPainter& p, Points points) { p.drawPolyline(QPolygonF(QList<QPointF>(points))); }
void dot(QPainter& p, QPointF at, double radius = 2.2) {
  p.save();
  p.setBrush(p.pen().color());
  p.drawEllipse(at, radius, radius);
  p.restore();
}
void arrow(QPainter& p, QPointF tip, QPointF way) {
  const QPointF across(-way.y(), way.x());
  line(p, {tip - way * 4 + across * 3, tip, tip - way * 4 - across * 3});
}
void words(QPainter& p, const QString& text, const QRectF& in, double px) {
  QFont font = p.font();
  font.setPixelSize(static_cast<int>(px));
  font.setBold(true);
  p.setFont(font);
  p.drawText(in, Qt::AlignCenter, text);
}
// A loop on a rail, with something in its middle.
void loop(QPainter& p) {
  p.drawArc(QRectF(4, 4, 16, 16), 40 * 16, 280 * 16);
  arrow(p, {18.1, 17.1}, {0.6, -0.8});
}

struct Picture {
  const char* kind;
  void (*paint)(QPainter&);
};

constexpr std::array<Picture, 27> pictures = {{
    {"set",
     [](QPainter& p) {
       line(p, {{2, 18}, {10, 18}, {10, 6}, {22, 6}});
     }},
    {"flip",
     [](QPainter& p) {
       line(p, {{2, 17}, {8, 17}, {8, 7}, {15, 7}, {15, 17}, {22, 17}});
       dot(p, {8, 12});
       dot(p, {15, 12});
     }},
    {"level",
     [](QPainter& p) {
       for (int i = 0; i < 4; ++i)
         line(p, {{2.0 + 5 * i, 18},
                  {2.0 + 5 * i, 6},
                  {4.0 + 5 * i, 6},
                  {4.0 + 5 * i, 18},
                  {7.0 + 5 * i, 18}});
     }},
    {"tone",
     [](QPainter& p) {
       QPainterPath wave({2, 12});
       wave.cubicTo({5, 2}, {7, 2}, {9, 12});
       wave.cubicTo({11, 22}, {13, 22}, {15, 12});
       wave.cubicTo({17, 2}, {19, 2}, {22, 12});
       p.drawPath(wave);
     }},
    {"silence",
     [](QPainter& p) {
       QPainterPath wave({2, 12});
       wave.cubicTo({4, 4}, {6, 4}, {8, 12});
       p.drawPath(wave);
       line(p, {{8, 12}, {22, 12}});
       line(p, {{13, 7}, {18, 17}});
     }},
    {"servo",
     [](QPainter& p) {
       p.drawArc(QRectF(3, 6, 18, 18), 0, 180 * 16);
       line(p, {{12, 15}, {17.5, 8}});
       dot(p, {12, 15}, 2.8);
     }},
    {"wait",
     [](QPainter& p) {
       p.drawEllipse(QPointF(12, 12), 8.5, 8.5);
       line(p, {{12, 7}, {12, 12}, {15.5, 14}});
     }},
    {"wait-until",
     [](QPainter& p) {
       line(p, {{2, 18}, {15, 18}, {15, 6}, {22, 6}});
       line(p, {{8, 3}, {8, 12}});
       arrow(p, {8, 13}, {0, 1});
     }},
    {"if",
     [](QPainter& p) {
       line(p, {{6, 2}, {6, 22}});
       line(p, {{6, 7}, {16, 7}, {16, 17}, {6, 17}});
       dot(p, {16, 12});
     }},
    {"repeat",
     [](QPainter& p) {
       loop(p);
       words(p, QStringLiteral("3"), QRectF(4, 4, 16, 16), 10);
     }},
    {"while",
     [](QPainter& p) {
       loop(p);
       line(p, {{8.5, 13}, {11, 15.5}, {14.5, 9}});
     }},
    {"loop", [](QPainter& p) { loop(p); }},
    {"leave",
     [](QPainter& p) {
       p.drawArc(QRectF(2, 5, 14, 14), 50 * 16, 260 * 16);
       line(p, {{10, 12}, {22, 12}});
       arrow(p, {22, 12}, {1, 0});
     }},
    {"end",
     [](QPainter& p) {
       line(p, {{12, 2}, {12, 15}});
       line(p, {{5, 16}, {19, 16}});
       line(p, {{8, 20}, {16, 20}});
     }},
    {"let",
     [](QPainter& p) {
       line(p, {{3, 8}, {15, 8}, {21, 13}, {15, 18}, {3, 18}, {3, 8}});
       line(p, {{6, 11.5}, {12, 11.5}});
       line(p, {{6, 14.5}, {12, 14.5}});
     }},
    {"add",
     [](QPainter& p) {
       line(p, {{3, 8}, {15, 8}, {21, 13}, {15, 18}, {3, 18}, {3, 8}});
       line(p, {{6, 13}, {12, 13}});
       line(p, {{9, 10}, {9, 16}});
     }},
    {"put",
     [](QPainter& p) {
       p.drawRect(QRectF(2.5, 12, 19, 8));
       line(p, {{9, 12}, {9, 20}});
       line(p, {{15, 12}, {15, 20}});
       line(p, {{12, 2}, {12, 8}});
       arrow(p, {12, 9.5}, {0, 1});
     }},
    {"call",
     [](QPainter& p) {
       line(p, {{3, 5}, {3, 19}});
       line(p, {{6.5, 5}, {6.5, 19}});
       line(p, {{6.5, 5}, {21, 5}, {21, 19}, {6.5, 19}});
       dot(p, {14, 12});
     }},
    {"post",
     [](QPainter& p) {
       line(p, {{4, 3}, {20, 3}, {20, 15}, {14, 21}, {4, 21}, {4, 3}});
       line(p, {{14, 21}, {14, 15}, {20, 15}});
       line(p, {{7.5, 8}, {16, 8}});
     }},
    {"log",
     [](QPainter& p) {
       for (int i = 0; i < 4; ++i)
         line(p, {{3, 5.0 + 4.6 * i}, {i % 2 ? 15.0 : 21.0, 5.0 + 4.6 * i}});
     }},
    {"remark",
     [](QPainter& p) {
       line(p, {{3, 4}, {21, 4}, {21, 16}, {11, 16}, {7, 21}, {7, 16}, {3, 16}, {3, 4}});
     }},
    {"blink",
     [](QPainter& p) {
       line(p, {{1, 17},
                {4, 17},
                {4, 7},
                {9, 7},
                {9, 17},
                {14, 17},
                {14, 7},
                {19, 7},
                {19, 17},
                {23, 17}});
     }},
    {"button switches lamp",
     [](QPainter& p) {
       p.drawRect(QRectF(2.5, 13, 9, 6));
       line(p, {{7, 6}, {7, 11}});
       arrow(p, {7, 12}, {0, 1});
       p.drawEllipse(QPointF(18, 10), 4, 4);
       line(p, {{18, 14}, {18, 19}});
     }},
    {"debounced press",
     [](QPainter& p) {
       line(p, {{2, 18}, {5, 18}, {5, 8}, {6.5, 8}, {6.5, 15}, {8, 15}, {8, 8}});
       line(p, {{8, 8}, {13, 8}});
       line(p, {{13, 18}, {16, 18}, {16, 5}, {22, 5}});
     }},
    {"fade",
     [](QPainter& p) {
       line(p, {{2, 19}, {12, 5}, {22, 19}, {2, 19}});
     }},
    {"hold or tap",
     [](QPainter& p) {
       line(p, {{1, 17},
                {3, 17},
                {3, 7},
                {6, 7},
                {6, 17},
                {10, 17},
                {10, 7},
                {21, 7},
                {21, 17},
                {23, 17}});
     }},
    {"running light",
     [](QPainter& p) {
       p.drawEllipse(QPointF(5, 12), 3, 3);
       dot(p, {12, 12}, 3);
       p.drawEllipse(QPointF(19, 12), 3, 3);
       line(p, {{6, 19}, {17, 19}});
       arrow(p, {18, 19}, {1, 0});
     }},
}};

}  // namespace

bool paintStepPicture(QPainter& p, const QString& kind, const QRectF& in, const QColor& ink) {
  for (const Picture& picture : pictures) {
    if (kind != QLatin1String(picture.kind)) continue;
    p.save();
    p.setRenderHint(QPainter::Antialiasing);
    p.translate(in.topLeft());
    p.scale(in.width() / 24, in.height() / 24);
    p.setPen(QPen(ink, 1.9, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
    p.setBrush(Qt::NoBrush);
    picture.paint(p);
    p.restore();
    return true;
  }
  return false;
}

}  // namespace ignavo::app
