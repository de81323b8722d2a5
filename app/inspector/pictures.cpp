#include "inspector/pictures.h"

#include <QPainter>
#include <algorithm>

#include "art/art.h"
#include "theme/text.h"
#include "theme/theme.h"

namespace ignavo::app {

namespace {

constexpr int mostNamed = 4;  // legs that are told by what they mean

// The part from the side, its legs named and where each sits.
class Portrait : public QWidget {
 public:
  Portrait(Part part, QWidget* parent) : QWidget(parent), part_(std::move(part)) {
    // Each leg has two lines of its own and air.
    constexpr int perLeg = 42, air = 20, least = 132;
    const auto legs = static_cast<int>(part_.legs.size());
    setFixedHeight(legs > mostNamed ? least : std::max(least, legs * perLeg + air));
    QStringList words;
    if (const PartKind* kind = catalogue().partKind(part_.type))
      for (std::size_t i = 0; i < part_.legs.size(); ++i)
        words << QStringLiteral("%1: %2").arg(
            str(kind->print.legs[i].meaning),
            part_.legs[i].in ? str(part_.legs[i].in->point) : QStringLiteral("in no hole"));
    setAccessibleName(words.join(QStringLiteral(", ")));
  }

 protected:
  void paintEvent(QPaintEvent*) override {
    const Theme& t = theme();
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(Qt::NoPen);
    p.setBrush(t.field);
    p.drawRoundedRect(rect(), 8, 8);
    const PartKind* kind = catalogue().partKind(part_.type);
    if (!kind) return;
    const auto count = static_cast<int>(part_.legs.size());
    const bool many = count > mostNamed;
    const double left = width() * (many ? 0.40 : 0.5);
    paintPortrait(p, part_, QRectF(0, 0, left, height()));
    // Beside it each leg with its meaning and its hole; many legs by their short names.
    const double x0 = left + 8, room = width() - left - 14;
    const int rows = many ? (count + 1) / 2 : count;
    const double step = (height() - 20.0) / rows;
    for (int i = 0; i < count; ++i) {
      const LegShape& leg = kind->print.legs[static_cast<std::size_t>(i)];
      const auto& in = part_.legs[static_cast<std::size_t>(i)].in;
      const QString where = in ? str(in->point) : QStringLiteral("in no hole");
      const double x = x0 + (many && i >= rows ? room / 2 : 0), w = many ? room / 2 : room;
      const double y = 10 + (i % rows) * step;
      p.setPen(t.ink);
      p.setFont(t.text(12, QFont::DemiBold));
      const QString name = many ? str(leg.id) : str(leg.meaning);
      if (many) {
        p.drawText(QRectF(x, y, 26, step), Qt::AlignLeft | Qt::AlignVCenter, name);
        p.setPen(t.ink2);
        p.setFont(t.mono(12));
        p.drawText(QRectF(x + 28, y, w - 28, step), Qt::AlignLeft | Qt::AlignVCenter,
                   in ? where : QStringLiteral("–"));
        continue;
      }
      const double middle = y + step / 2;
      p.drawText(QRectF(x, middle - 16, w, 16), Qt::AlignLeft | Qt::AlignVCenter,
                 p.fontMetrics().elidedText(name, Qt::ElideRight, static_cast<int>(w)));
      p.setPen(t.ink2);
      p.setFont(t.mono(12));
      p.drawText(QRectF(x, middle, w, 16), Qt::AlignLeft | Qt::AlignVCenter, where);
    }
  }

 private:
  Part part_;
};

// The way of the current, from source to ground, as chips.
class PathStrip : public QWidget {
 public:
  PathStrip(std::vector<PathChip> chips, QWidget* parent)
      : QWidget(parent), chips_(std::move(chips)) {
    setFixedHeight(heightFor(336));
    QStringList words;
    for (const PathChip& c : chips_) words << c.text;
    setAccessibleName(QObject::tr("Path of the current: %1").arg(words.join(QStringLiteral(", "))));
  }

 protected:
  int heightFor(double room) const {
    double x = 0;
    int rows = 1;
    for (const PathChip& c : chips_) {
      const double w = widthOf(c);
      if (x > 0 && x + w > room) x = 0, ++rows;
      x += w + 12;
    }
    return rows * 30 + 2;
  }
  static double widthOf(const PathChip& c) {
    return QFontMetricsF(theme().text(12, QFont::DemiBold)).horizontalAdvance(c.text) + 18;
  }
  void paintEvent(QPaintEvent*) override {
    const Theme& t = theme();
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    double x = 1, y = 2;
    p.setFont(t.text(12, QFont::DemiBold));
    for (std::size_t i = 0; i < chips_.size(); ++i) {
      const double w = widthOf(chips_[i]);
      if (x > 1 && x + w > width()) x = 1, y += 30;
      const QRectF box(x, y, w, 23);
      const QColor casing = t.casing(chips_[i].colour, t.card);
      p.setPen(!chips_[i].filled  ? QPen(t.line, 1)
               : casing.isValid() ? QPen(casing, 1)
                                  : QPen(Qt::NoPen));
      p.setBrush(chips_[i].filled ? t.net(chips_[i].colour) : t.field);
      p.drawRoundedRect(box, 5, 5);
      p.setPen(chips_[i].filled ? t.netInk(chips_[i].colour) : t.ink);
      p.drawText(box, Qt::AlignCenter, chips_[i].text);
      x += w;
      if (i + 1 < chips_.size()) {
        p.setPen(QPen(t.ink, 2));
        p.drawLine(QPointF(x + 1, y + 11.5), QPointF(x + 11, y + 11.5));
      }
      x += 12;
    }
  }

 private:
  std::vector<PathChip> chips_;
};

class ShareBar : public QWidget {
 public:
  ShareBar(double share, QWidget* parent) : QWidget(parent), share_(share) { setFixedHeight(10); }

 protected:
  void paintEvent(QPaintEvent*) override {
    const Theme& t = theme();
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(Qt::NoPen);
    p.setBrush(t.line);
    p.drawRoundedRect(QRectF(0, 1, width(), 8), 4, 4);
    p.setBrush(share_ > 1.5 ? t.danger : share_ > 1 ? t.warning : t.good);
    p.drawRoundedRect(QRectF(0, 1, std::max(4.0, width() * std::min(1.0, share_)), 8), 4, 4);
  }

 private:
  double share_;
};

}  // namespace

QWidget* makePortrait(const Part& part, QWidget* parent) { return new Portrait(part, parent); }
QWidget* makePathStrip(std::vector<PathChip> chips, QWidget* parent) {
  return new PathStrip(std::move(chips), parent);
}
QWidget* makeShareBar(double share, QWidget* parent) { return new ShareBar(share, parent); }

}  // namespace ignavo::app
