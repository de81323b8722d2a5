#include "program/program_accessible.h"

#include "program/program_view.h"
#include "theme/accessible_parts.h"
#include "theme/text.h"

namespace ignavo::app {

namespace {

// A row of the drawing, or a field in it. It holds places, not pointers: rows come and go.
class ProgramItem : public QAccessibleInterface {
 public:
  ProgramItem(ProgramView* view, int row, int field) : view_(view), row_(row), field_(field) {}

  bool isValid() const override { return rowOrNull() && (field_ < 0 || token()); }
  QObject* object() const override { return nullptr; }
  QWindow* window() const override { return view_->window()->windowHandle(); }
  QAccessibleInterface* parent() const override;
  int childCount() const override;
  QAccessibleInterface* child(int index) const override;
  QAccessibleInterface* childAt(int x, int y) const override { return partUnder(*this, x, y); }
  int indexOfChild(const QAccessibleInterface* of) const override { return placeOfPart(*this, of); }
  QRect rect() const override {
    if (!isValid()) return {};
    const QRectF box = field_ < 0 ? rowOrNull()->box : token()->box;
    const QRect seen = view_->shown(box).toRect();
    return QRect(view_->mapToGlobal(seen.topLeft()), seen.size());
  }
  QAccessible::Role role() const override {
    return field_ < 0 ? QAccessible::ListItem : QAccessible::EditableText;
  }
  QAccessible::State state() const override {
    QAccessible::State out;
    if (!isValid()) {
      out.invalid = true;
      return out;
    }
    out.selectable = field_ < 0;
    out.selected = field_ < 0 && view_->isSelected(*rowOrNull());
    out.readOnly = field_ < 0;
    return out;
  }
  QString text(QAccessible::Text what) const override {
    if (!isValid()) return {};
    if (what == QAccessible::Name) return field_ < 0 ? view_->spoken(*rowOrNull()) : token()->text;
    if (what == QAccessible::Description && field_ < 0) {
      const ProgramRow& row = *rowOrNull();
      const QString trouble = view_->troubleOf(row);
      if (!trouble.isEmpty()) return trouble;
      return row.what == ProgramRow::What::sign   ? view_->stateOf(row)
             : row.what == ProgramRow::What::step ? view_->ranText(row.step->id)
                                                  : QString();
    }
    if (what == QAccessible::Value && field_ >= 0) return token()->text;
    return {};
  }
  void setText(QAccessible::Text, const QString&) override {}

 private:
  const ProgramRow* rowOrNull() const {
    const auto& rows = view_->picture().rows;
    return row_ < static_cast<int>(rows.size()) ? &rows[static_cast<std::size_t>(row_)] : nullptr;
  }
  // The field of that number among the row's tokens.
  const Token* token() const {
    int field = 0;
    for (const Token& t : rowOrNull()->tokens)
      if (t.isField() && field++ == field_) return &t;
    return nullptr;
  }

  ProgramView* view_;
  int row_, field_;  // field: -1, the row itself
};

class ProgramAccessible : public AccessibleDrawing<ProgramView, ProgramItem> {
 public:
  using AccessibleDrawing::AccessibleDrawing;
  int childCount() const override { return static_cast<int>(view_->picture().rows.size()) + 1; }
  QAccessibleInterface* child(int index) const override {
    const auto& rows = view_->picture().rows;
    if (index < 0 || index > static_cast<int>(rows.size())) return nullptr;
    if (index == static_cast<int>(rows.size()))
      return QAccessible::queryAccessibleInterface(view_->whenBox());
    // Where a lane ends, and where a row is open, one types.
    const ProgramRow& row = rows[static_cast<std::size_t>(index)];
    const bool open = row.what == ProgramRow::What::open;
    if (open || row.what == ProgramRow::What::end)
      if (QLineEdit* box = open ? view_->openBox() : view_->endBox(row.lane))
        return QAccessible::queryAccessibleInterface(box);
    return item(index, -1);
  }
};

QAccessibleInterface* ProgramItem::parent() const {
  auto* whole = static_cast<ProgramAccessible*>(QAccessible::queryAccessibleInterface(view_));
  return field_ < 0 ? whole : whole->item(row_, -1);
}
int ProgramItem::childCount() const {
  if (field_ >= 0 || !rowOrNull()) return 0;
  int fields = 0;
  for (const Token& t : rowOrNull()->tokens) fields += t.isField();
  return fields;
}
QAccessibleInterface* ProgramItem::child(int index) const {
  if (index < 0 || index >= childCount()) return nullptr;
  auto* whole = static_cast<ProgramAccessible*>(QAccessible::queryAccessibleInterface(view_));
  return whole->item(row_, index);
}

QAccessibleInterface* make(const QString&, QObject* object) {
  if (auto* view = qobject_cast<ProgramView*>(object)) return new ProgramAccessible(view);
  return nullptr;
}

}  // namespace

void makeProgramsAccessible() {
  static const bool once = [] {
    QAccessible::installFactory(make);
    return true;
  }();
  (void)once;
}

}  // namespace ignavo::app
