#pragma once
#include <QAccessible>
#include <QAccessibleWidget>
#include <map>
#include <utility>

namespace ignavo::app {

// What every drawing does that screen readers can go through: its parts are looked for among its
// children.
inline QAccessibleInterface* partUnder(const QAccessibleInterface& whole, int x, int y) {
  for (int i = 0; i < whole.childCount(); ++i)
    if (QAccessibleInterface* part = whole.child(i); part && part->rect().contains(x, y))
      return part;
  return nullptr;
}
inline int placeOfPart(const QAccessibleInterface& whole, const QAccessibleInterface* part) {
  for (int i = 0; i < whole.childCount(); ++i)
    if (whole.child(i) == part) return i;
  return -1;
}

// A widget whose parts are drawn. Each is an `Item` made from the view and two numbers, when it is
// asked for first, and kept.
template <typename View, typename Item>
class AccessibleDrawing : public QAccessibleWidget {
 public:
  explicit AccessibleDrawing(View* view)
      : QAccessibleWidget(view, QAccessible::List), view_(view) {}
  ~AccessibleDrawing() override {
    for (const auto& [place, id] : ids_) QAccessible::deleteAccessibleInterface(id);
  }
  int indexOfChild(const QAccessibleInterface* of) const override { return placeOfPart(*this, of); }
  QAccessibleInterface* childAt(int x, int y) const override { return partUnder(*this, x, y); }
  QAccessibleInterface* item(int first, int second) const {
    const auto [it, fresh] = ids_.try_emplace({first, second}, 0);
    if (fresh)
      it->second = QAccessible::registerAccessibleInterface(new Item(view_, first, second));
    return QAccessible::accessibleInterface(it->second);
  }

 protected:
  View* view_;

 private:
  mutable std::map<std::pair<int, int>, QAccessible::Id> ids_;
};

}  // namespace ignavo::app
