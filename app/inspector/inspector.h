#pragma once
#include <QTimer>
#include <QWidget>
#include <functional>

#include "document/document.h"

class QLabel;
class QVBoxLayout;

namespace ignavo::app {

// What is selected: its picture, its legs, its properties, and what flows
// through it. With nothing selected it says how to begin.
class Inspector : public QWidget {
  Q_OBJECT
 public:
  explicit Inspector(Document& document, QWidget* parent = nullptr);

 Q_SIGNALS:
  void asked(const QString& what);  // "blink", "light", "example" on the start cards
  // What the keys F, R, Ctrl+D and Del do, for the mouse.
  void flipAsked();
  void whyAsked();
  void turnAsked();
  void duplicateAsked();
  void removeAsked();

 protected:
  void showEvent(QShowEvent*) override;

 private:
  void rebuild();
  void refreshReadings();
  void partPage(const Part& part);
  void wirePage(const Wire& wire);
  void tablePage(const std::string& id);
  void emptyPage();
  void pinTable(const std::string& board);
  void pinRow(const std::string& board, const std::string& pin);
  void addActions(bool part, bool polarised, bool shows = false);
  void addProps(const Part& part, const PartKind& kind);
  void addSeries(const Part& part, const PropKind& prop, const std::function<void(double)>& change);
  void addReadings(const Part& part, const PartKind& kind);
  QWidget* row(const QString& label, QWidget* field);

  Document& doc_;
  QVBoxLayout* column_;
  QWidget* page_ = nullptr;
  QVBoxLayout* into_ = nullptr;
  QWidget* readings_ = nullptr;
  QString shownId_;
  QTimer later_;
};

// A line of text in the pane's manner.
QLabel* inspectorLabel(const QString& text, QWidget* parent, double px, bool strong = false,
                       bool second = false);

}  // namespace ignavo::app
