#include <QPainter>
#include <algorithm>

#include "art/art.h"
#include "cabinet/cabinet.h"
#include "theme/text.h"
#include "theme/theme.h"

// What lies in which drawer, and the picture on its card.
namespace ignavo::app {

namespace {

void paintFitted(QPainter& p, const QRectF& area, const QRectF& box,
                 const std::function<void()>& paint) {
  const double scale = std::min({1.0, area.width() / box.width(), area.height() / box.height()});
  p.save();
  p.translate(area.center());
  p.scale(scale, scale);
  p.translate(-box.center());
  paint();
  p.restore();
}

CabinetItem partItem(const PartKind& kind) {
  static const std::vector<std::string> first = {"led",     "resistor", "button",      "piezo",
                                                 "rgb-led", "pot",      "light-sensor"};
  CabinetItem item;
  item.id = kind.type;
  item.label = str(kind.label);
  item.brief = str(kind.brief);
  item.drawer = str(kind.category);
  item.first = std::find(first.begin(), first.end(), kind.type) != first.end();
  item.words = kind.words;
  item.words.push_back(kind.type);
  item.words.insert(item.words.end(), kind.typed.begin(), kind.typed.end());
  for (const PropKind& prop : kind.props) {
    item.words.insert(item.words.end(), prop.choices.begin(), prop.choices.end());
    for (const auto& [called, choice] : prop.alsoCalled) item.words.push_back(called);
  }
  item.help = QStringLiteral("<b>%1</b><br>%2<br><br>%3<br><br><i>Never:</i> %4")
                  .arg(item.label, str(kind.what), str(kind.place), str(kind.never));
  item.description = str(kind.what);
  item.picture = [&kind](QPainter& p, const QRectF& area) {
    const Part sample = newPart(emptyProject(), kind);
    if (const AreaPainter card = cardOf(kind.type))
      card(p, sample, area);
    else
      paintSample(p, sample, area, 1);
  };
  return item;
}

CabinetItem circuitItem(const SmallCircuit& circuit) {
  CabinetItem item;
  item.what = CabinetItem::What::circuit;
  item.id = circuit.id;
  item.label = str(circuit.label);
  item.brief = str(circuit.brief);
  item.drawer = QObject::tr("Small circuits");
  item.words = circuit.words;
  item.help = QObject::tr(
                  "<b>%1</b><br>%2<br><br>Choose a pin: parts and wires are placed on free "
                  "rows.")
                  .arg(item.label, str(circuit.what));
  item.description = str(circuit.what);
  const PartKind* kind = catalogue().partKind(circuit.shows);
  item.picture = [kind](QPainter& p, const QRectF& area) {
    // The part on a thread from a pin.
    const Theme& t = theme();
    const QPointF left(area.left(), area.center().y());
    QPainterPath thread(left);
    thread.cubicTo(left + QPointF(24, -14), left + QPointF(24, 14), area.center() - QPointF(14, 0));
    paintWire(p, thread, left, area.center() - QPointF(14, 0), {NetColour::Kind::pin, 0});
    p.setPen(QPen(t.ground, 3));
    const double y = area.center().y(), x = area.right() - 6;
    p.drawLine(area.center(), QPointF(x - 8, y));
    for (int i = 0; i < 3; ++i)
      p.drawLine(QPointF(x - 8 + 4 * i, y - 9 + 3 * i), QPointF(x - 8 + 4 * i, y + 9 - 3 * i));
    if (kind) paintSample(p, newPart(emptyProject(), *kind), area.adjusted(34, 0, -30, 0), 1);
  };
  return item;
}

CabinetItem tableItem(const std::string& type, const QString& label, const QString& brief,
                      const QString& help) {
  CabinetItem item;
  item.what = CabinetItem::What::table;
  item.id = type;
  item.label = label;
  item.brief = brief;
  item.drawer = QObject::tr("Boards");
  item.words = {"board", "breadboard", "table", type};
  item.help = QStringLiteral("<b>%1</b><br>%2").arg(label, help);
  item.description = help;
  item.picture = [type](QPainter& p, const QRectF& area) {
    if (const BreadboardKind* k = breadboardKind(type)) {
      const QRectF box(0, 0, k->width * Theme::pitch, k->height * Theme::pitch);
      // Lying, for they are tall.
      p.save();
      p.translate(area.center());
      p.rotate(90);
      paintFitted(p, QRectF(-area.height() / 2, -area.width() / 2, area.height(), area.width()),
                  box, [&] {
                    paintBreadboard(p, *k, {0, 0});
                  });
      p.restore();
    } else if (const BoardKind* b = catalogue().boardKind(type)) {
      const QRectF box(0, -18, b->shape.width * Theme::pitch, b->shape.height * Theme::pitch + 18);
      p.save();
      p.translate(area.center());
      p.rotate(90);
      paintFitted(p, QRectF(-area.height() / 2, -area.width() / 2, area.height(), area.width()),
                  box, [&] {
                    paintBoard(p, *b, {0, 0}, {});
                  });
      p.restore();
    }
  };
  return item;
}

}  // namespace

const std::vector<CabinetItem>& cabinetItems() {
  static const std::vector<CabinetItem> all = [] {
    std::vector<CabinetItem> items;
    CabinetItem wire;
    wire.what = CabinetItem::What::wire;
    wire.label = QObject::tr("Wire");
    wire.brief = QObject::tr("drag hole to hole");
    wire.first = true;
    wire.words = {"wire", "join", "cable", "jumper"};
    wire.help = QObject::tr(
        "<b>Wire</b><br>Joins two holes or pins. Drag from one hole to another on the bench.");
    wire.description = QObject::tr("Joins two holes or pins.");
    wire.picture = [](QPainter& p, const QRectF& area) {
      const QPointF c = area.center();
      QPainterPath path(c + QPointF(-44, 12));
      path.cubicTo(c + QPointF(-14, -30), c + QPointF(12, 30), c + QPointF(44, -14));
      paintWire(p, path, c + QPointF(-44, 12), c + QPointF(44, -14), {NetColour::Kind::pin, 0});
    };
    items.push_back(std::move(wire));
    for (const PartKind* kind : catalogue().parts()) items.push_back(partItem(*kind));
    for (const SmallCircuit& c : smallCircuits()) items.push_back(circuitItem(c));
    for (const BoardKind* b : catalogue().boards())
      items.push_back(tableItem(b->type, str(b->label), str(b->brief), str(b->help)));
    for (const BreadboardKind& b : breadboardKinds())
      items.push_back(
          tableItem(b.type, str(b.name), QObject::tr("%1 rows").arg(b.rows), str(b.help)));
    return items;
  }();
  return all;
}

}  // namespace ignavo::app
