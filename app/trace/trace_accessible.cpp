#include "trace/trace_accessible.h"

#include "theme/accessible_parts.h"
#include "trace/trace_view.h"

namespace ignavo::app {

namespace {

using Spoken = TraceView::Spoken;

// A line, a mark, or something that happened; or an edge of a line. It holds places, not pointers:
// they come and go.
class TraceItem : public QAccessibleInterface {
 public:
  TraceItem(TraceView* view, int index, int edge) : view_(view), index_(index), edge_(edge) {}

  bool isValid() const override {
    const int all = static_cast<int>(view_->spoken().size());
    return index_ < all &&
           (edge_ < 0 || edge_ < static_cast<int>(view_->spokenEdges(index_).size()));
  }
  QObject* object() const override { return nullptr; }
  QWindow* window() const override { return view_->window()->windowHandle(); }
  QAccessibleInterface* parent() const override;
  int childCount() const override {
    return edge_ < 0 && isValid() ? static_cast<int>(view_->spokenEdges(index_).size()) : 0;
  }
  QAccessibleInterface* child(int index) const override;
  QAccessibleInterface* childAt(int x, int y) const override { return partUnder(*this, x, y); }
  int indexOfChild(const QAccessibleInterface* of) const override { return placeOfPart(*this, of); }
  QRect rect() const override {
    if (!isValid()) return {};
    const QRect box = told().box.toRect();
    return {view_->mapToGlobal(box.topLeft()), box.size()};
  }
  QAccessible::Role role() const override { return QAccessible::ListItem; }
  QAccessible::State state() const override {
    QAccessible::State out;
    out.invalid = !isValid();
    out.readOnly = true;
    return out;
  }
  QString text(QAccessible::Text what) const override {
    return what == QAccessible::Name && isValid() ? told().words : QString();
  }
  void setText(QAccessible::Text, const QString&) override {}

 private:
  Spoken told() const {
    return edge_ < 0 ? view_->spoken()[static_cast<std::size_t>(index_)]
                     : view_->spokenEdges(index_)[static_cast<std::size_t>(edge_)];
  }
  TraceView* view_;
  int index_, edge_;  // edge: -1, the child itself
};

class TraceAccessible : public AccessibleDrawing<TraceView, TraceItem> {
 public:
  using AccessibleDrawing::AccessibleDrawing;
  int childCount() const override { return static_cast<int>(view_->spoken().size()); }
  QAccessibleInterface* child(int index) const override {
    return index >= 0 && index < childCount() ? item(index, -1) : nullptr;
  }
};

QAccessibleInterface* TraceItem::parent() const {
  auto* whole = static_cast<TraceAccessible*>(QAccessible::queryAccessibleInterface(view_));
  return edge_ < 0 ? whole : whole->item(index_, -1);
}
QAccessibleInterface* TraceItem::child(int index) const {
  if (index < 0 || index >= childCount()) return nullptr;
  return static_cast<TraceAccessible*>(QAccessible::queryAccessibleInterface(view_))
      ->item(index_, index);
}

QAccessibleInterface* makeTrace(const QString&, QObject* object) {
  if (auto* view = qobject_cast<TraceView*>(object)) return new TraceAccessible(view);
  return nullptr;
}

}  // namespace

void makeTracesAccessible() {
  static const bool once = [] {
    QAccessible::installFactory(makeTrace);
    return true;
  }();
  (void)once;
}

}  // namespace ignavo::app
