#include "program/names_table.h"

#include <QContextMenuEvent>
#include <QHeaderView>
#include <QKeyEvent>
#include <QMenu>

#include "program/names.h"
#include "text/plain.h"
#include "theme/text.h"
#include "theme/theme.h"

namespace ignavo::app {

namespace {

QString numbersOf(const NumberList& list) {
  QStringList out;
  for (const double item : list.items) out << str(phraseOf(Expr::of(item)));
  return out.join(QStringLiteral(", "));
}

QString typeName(ValueType type) {
  switch (type) {
    case ValueType::truth:
      return NamesTable::tr("true or false");
    case ValueType::whole:
      return NamesTable::tr("whole numbers");
    case ValueType::real:
      return NamesTable::tr("numbers");
    case ValueType::text:
      return NamesTable::tr("texts");
  }
  return {};
}

QString valueName(const VariableView& v) {
  if (v.type == ValueType::text) return str(v.text);
  if (v.type == ValueType::truth)
    return v.number != 0 ? QStringLiteral("true") : QStringLiteral("false");
  return QString::number(v.number, 'g', v.type == ValueType::whole ? 11 : 6);
}

}  // namespace

NamesTable::NamesTable(Document& document, RunControl& run, QWidget* parent)
    : QTableWidget(parent), doc_(document), run_(run) {
  setObjectName(QStringLiteral("namesTable"));
  setAccessibleName(tr("Variables and lists"));
  setColumnCount(4);
  setHorizontalHeaderLabels({tr("Name"), tr("Begins with"), tr("Now"), tr("Holds")});
  verticalHeader()->hide();
  horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
  horizontalHeader()->setSectionResizeMode(start, QHeaderView::Stretch);
  setSelectionMode(QAbstractItemView::SingleSelection);
  setVerticalScrollBarPolicy(Qt::ScrollBarAsNeeded);
  setShowGrid(false);
  setTabKeyNavigation(false);
  connect(&doc_, &Document::changed, this, &NamesTable::fill);
  connect(&doc_, &Document::boardChosen, this, &NamesTable::fill);
  connect(&run_, &RunControl::updated, this, &NamesTable::showValues);
  connect(&run_, &RunControl::stateChanged, this, &NamesTable::showValues);
  connect(this, &QTableWidget::itemChanged, this, &NamesTable::edited);
  fill();
}

const Program* NamesTable::program() const { return doc_.project().program(doc_.board()); }

void NamesTable::changeEvent(QEvent* e) {
  QTableWidget::changeEvent(e);
  if (e->type() == QEvent::FontChange) fill();
}

void NamesTable::fill() {
  const Program* held = program();
  const int variables = held ? static_cast<int>(held->variables.size()) : 0;
  const int rows = variables + (held ? static_cast<int>(held->lists.size()) : 0);
  setVisible(rows > 0);
  filling_ = true;
  setRowCount(rows);
  const Types types = held ? Types(*held) : Types();
  const auto put = [&](int row, Column column, const QString& text, bool editable) {
    auto* cell = item(row, column);
    if (!cell) setItem(row, column, cell = new QTableWidgetItem);
    cell->setText(text);
    cell->setFlags(editable ? Qt::ItemIsEnabled | Qt::ItemIsSelectable | Qt::ItemIsEditable
                            : Qt::ItemIsEnabled | Qt::ItemIsSelectable);
  };
  for (int row = 0; row < rows; ++row) {
    if (row < variables) {
      const Variable& v = held->variables[static_cast<std::size_t>(row)];
      put(row, name, str(v.name), true);
      put(row, start, str(phraseOf(v.start)), true);
      put(row, holds, typeName(types.variable(v.name)), false);
    } else {
      const NumberList& l = held->lists[static_cast<std::size_t>(row - variables)];
      put(row, name, str(l.name), true);
      put(row, start, numbersOf(l), true);
      put(row, holds, tr("a list of %1").arg(l.items.size()), false);
    }
    put(row, now, {}, false);
  }
  filling_ = false;
  showValues();
  constexpr int mostRows = 5;  // then it scrolls
  const int height = rowHeight(0) > 0 ? rowHeight(0) : 28;
  setFixedHeight(horizontalHeader()->sizeHint().height() + height * std::min(rows, mostRows) +
                 2 * frameWidth());
}

void NamesTable::showValues() {
  const Program* held = program();
  const auto shown = run_.shown();
  if (!held) return;
  filling_ = true;
  for (int row = 0; row < rowCount(); ++row) {
    const auto variables = static_cast<int>(held->variables.size());
    const std::string& called = row < variables
                                    ? held->variables[static_cast<std::size_t>(row)].name
                                    : held->lists[static_cast<std::size_t>(row - variables)].name;
    QStringList values;
    if (shown && shown->powered)
      for (const VariableView& v : shown->variables)
        if (v.board == doc_.board() && v.name == called && (v.item > 0) == (row >= variables))
          values << valueName(v);
    if (QTableWidgetItem* cell = item(row, now)) cell->setText(values.join(QStringLiteral(", ")));
  }
  filling_ = false;
}

void NamesTable::edited(QTableWidgetItem* cell) {
  const Program* held = program();
  if (filling_ || !held) return;
  const int row = cell->row();
  const auto variables = static_cast<int>(held->variables.size());
  const bool list = row >= variables;
  const std::string typed = plainLine(cell->text().toStdString());
  const std::string& was = list ? held->lists[static_cast<std::size_t>(row - variables)].name
                                : held->variables[static_cast<std::size_t>(row)].name;
  Q_EMIT problem(QString());
  if (cell->column() == name) {
    const bool taken = list ? held->list(typed) != nullptr : held->variable(typed) != nullptr;
    if (typed == was) return;
    if (!isName(typed) || typed.size() > limits::nameLetters || taken) {
      Q_EMIT problem(taken ? tr("There is another one called “%1”.").arg(str(typed))
                           : tr("A name has 1 to %1 letters.").arg(limits::nameLetters));
      return fill();
    }
    doc_.edit(tr("call “%1” “%2”").arg(str(was), str(typed)),
              list ? renameList(doc_.project(), doc_.board(), was, typed)
                   : renameVariable(doc_.project(), doc_.board(), was, typed));
    return;
  }
  const auto read = parseName((list ? "list " : "variable ") + nameText(was) + " is " + typed);
  if (!read || !read->problem.empty()) {
    Q_EMIT problem(read ? str(read->problem) : tr("This cannot be read."));
    return fill();
  }
  doc_.edit(tr("change what “%1” begins with").arg(str(was)),
            withName(doc_.project(), doc_.board(), *read));
}

std::string NamesTable::freeName(const char* stem) const {
  const Program* held = program();
  for (int n = 1;; ++n) {
    std::string free = n == 1 ? stem : stem + std::to_string(n);
    if (!held || (!held->variable(free) && !held->list(free))) return free;
  }
}

void NamesTable::addVariable() {
  const Program* held = program();
  if (held && held->variables.size() >= limits::variables)
    return Q_EMIT problem(tr("A program can have %1 variables at most.").arg(limits::variables));
  ParsedName made;
  made.variable.emplace();
  made.variable->name = freeName("count");
  if (!doc_.edit(tr("add a variable"), withName(doc_.project(), doc_.board(), made))) return;
  setFocus();
  editItem(item(static_cast<int>(program()->variables.size()) - 1, name));
}

void NamesTable::addList() {
  const Program* held = program();
  if (held && held->lists.size() >= limits::lists)
    return Q_EMIT problem(tr("A program can have %1 lists at most.").arg(limits::lists));
  ParsedName made;
  made.list.emplace();
  made.list->name = freeName("values");
  made.list->items = {1, 2, 3};
  if (!doc_.edit(tr("add a list"), withName(doc_.project(), doc_.board(), made))) return;
  setFocus();
  editItem(item(rowCount() - 1, name));
}

void NamesTable::removeCurrent() {
  const Program* held = program();
  const int row = currentRow();
  if (!held || row < 0) return;
  const auto variables = static_cast<int>(held->variables.size());
  if (row < variables) {
    std::vector<Variable> left = held->variables;
    const QString gone = str(left[static_cast<std::size_t>(row)].name);
    left.erase(left.begin() + row);
    doc_.edit(tr("remove “%1”").arg(gone),
              edits::setVariables(doc_.project(), doc_.board(), std::move(left)));
  } else {
    std::vector<NumberList> left = held->lists;
    const QString gone = str(left[static_cast<std::size_t>(row - variables)].name);
    left.erase(left.begin() + (row - variables));
    doc_.edit(tr("remove “%1”").arg(gone),
              edits::setLists(doc_.project(), doc_.board(), std::move(left)));
  }
}

void NamesTable::keyPressEvent(QKeyEvent* e) {
  if (e->key() == Qt::Key_Delete || e->key() == Qt::Key_Backspace) return removeCurrent();
  if ((e->key() == Qt::Key_Return || e->key() == Qt::Key_Enter) && currentItem() &&
      state() != QAbstractItemView::EditingState && (currentItem()->flags() & Qt::ItemIsEditable))
    return editItem(currentItem());
  QTableWidget::keyPressEvent(e);
}

void NamesTable::contextMenuEvent(QContextMenuEvent* e) {
  auto* menu = new QMenu(this);
  menu->setObjectName(QStringLiteral("namesMenu"));
  menu->setAttribute(Qt::WA_DeleteOnClose);
  menu->addAction(tr("Add a variable"), this, &NamesTable::addVariable);
  menu->addAction(tr("Add a list"), this, &NamesTable::addList);
  if (currentRow() >= 0) menu->addAction(tr("Remove\tDel"), this, &NamesTable::removeCurrent);
  menu->popup(e->globalPos());
}

}  // namespace ignavo::app
