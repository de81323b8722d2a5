#include "document/board_chooser.h"

#include <QSignalBlocker>

namespace ignavo::app {

BoardChooser::BoardChooser(Document& document, QWidget* parent)
    : QComboBox(parent), doc_(document) {
  setObjectName(QStringLiteral("boardChooser"));
  setAccessibleName(tr("Board"));
  setToolTip(
      tr("Which board’s program, text and firmware are shown. A click on a board does the "
         "same."));
  connect(&doc_, &Document::changed, this, &BoardChooser::refresh);
  connect(&doc_, &Document::boardChosen, this, &BoardChooser::refresh);
  connect(this, &QComboBox::activated, this,
          [this](int i) { doc_.chooseBoard(itemData(i).toString().toStdString()); });
  refresh();
}

void BoardChooser::refresh() {
  const QSignalBlocker quiet(this);
  clear();
  for (const BoardItem& board : doc_.project().boards) {
    const BoardKind* kind = catalogue().boardKind(board.type);
    const QString id = QString::fromStdString(board.id);
    addItem(kind ? tr("%1 · %2").arg(id, QString::fromStdString(kind->label)) : id, id);
    if (board.id == doc_.board()) setCurrentIndex(count() - 1);
  }
  setVisible(count() > 1);
}

}  // namespace ignavo::app
