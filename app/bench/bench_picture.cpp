#include "bench/bench_picture.h"

#include <QFile>
#include <QImage>
#include <QSvgGenerator>
#include <algorithm>
#include <map>

#include "art/art.h"
#include "bench/scene.h"

namespace ignavo::app {

namespace {

void paint(QPainter& p, const Project& project, const std::vector<Finding>& marked) {
  paintBench(p, project);
  const std::vector<QPointF> places = markPlaces(project, marked);
  for (std::size_t i = 0; i < marked.size(); ++i)
    if (!marked[i].meant) paintMark(p, places[i], marked[i].severity, static_cast<int>(i) + 1);
}

// The colours that are there most often: a bench has few, and a palette of
// them keeps the file small.
QList<QRgb> paletteOf(const QImage& image) {
  std::map<QRgb, int> count;
  for (int y = 0; y < image.height(); ++y)
    for (int x = 0; x < image.width(); ++x) ++count[image.pixel(x, y) & 0xFFFCFCFC];
  std::vector<std::pair<int, QRgb>> order;
  order.reserve(count.size());
  for (const auto& [colour, n] : count) order.emplace_back(n, colour);
  std::sort(order.rbegin(), order.rend());
  QList<QRgb> out;
  for (std::size_t i = 0; i < std::min<std::size_t>(order.size(), 256); ++i)
    out.push_back(order[i].second | 0x010101);
  return out;
}

}  // namespace

bool writeBenchPicture(const Project& project, const QString& path,
                       const std::vector<Finding>& marked, double scale) {
  const QRectF box = benchBounds(project);
  if (path.endsWith(QStringLiteral(".png"), Qt::CaseInsensitive)) {
    QImage image((box.size() * scale).toSize(), QImage::Format_ARGB32_Premultiplied);
    image.fill(theme().mat);
    QPainter p(&image);
    p.setRenderHint(QPainter::Antialiasing);
    p.scale(scale, scale);
    p.translate(-box.topLeft());
    paint(p, project, marked);
    p.end();
    return image.convertToFormat(QImage::Format_Indexed8, paletteOf(image), Qt::ThresholdDither)
        .save(path);
  }
  QFile file(path);
  if (!file.open(QIODevice::WriteOnly)) return false;
  QSvgGenerator svg;
  svg.setOutputDevice(&file);
  svg.setSize(box.size().toSize());
  svg.setViewBox(QRectF(QPointF(0, 0), box.size()));
  // It is written into the file as it is, so what would be markup is spelled out.
  svg.setTitle(QString::fromStdString(project.title).toHtmlEscaped());
  QPainter p(&svg);
  p.fillRect(QRectF(QPointF(0, 0), box.size()), theme().mat);
  p.translate(-box.topLeft());
  paint(p, project, marked);
  p.end();
  return file.flush() && file.error() == QFileDevice::NoError;
}

}  // namespace ignavo::app
