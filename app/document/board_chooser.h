#pragma once
#include <QComboBox>

#include "document/document.h"

namespace ignavo::app {

// Which board the panes show, where a project has several; not seen where it has one.
class BoardChooser : public QComboBox {
  Q_OBJECT
 public:
  BoardChooser(Document& document, QWidget* parent);

 private:
  void refresh();

  Document& doc_;
};

}  // namespace ignavo::app
