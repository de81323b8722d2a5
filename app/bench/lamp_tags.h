#pragma once
#include <QPushButton>
#include <map>
#include <optional>
#include <string>

#include "document/document.h"
#include "run/lamp_looks.h"
#include "run/run_control.h"

namespace ignavo::app {

class BenchView;

// What lamps say themselves: that one changes too fast to be seen, and a button that slows the run;
// and, with calm lamps, how often one flashes that is shown steady.
class LampTags : public QObject {
  Q_OBJECT
 public:
  LampTags(Document& document, RunControl& run, BenchView* bench);
  void setCalm(bool calm);
  bool isCalm() const { return calm_; }
  // Of a lamp that would flash more than three times a second: its mean light; else nothing.
  std::optional<double> steadyLight(const std::string& part) const;
  void refresh();
  void setShown(bool shown);  // not where the building of the real thing is looked at

 private:
  QString words(const LampLook& look) const;
  QPushButton* tagOf(const std::string& part);

  Document& doc_;
  RunControl& run_;
  BenchView* bench_;
  bool calm_ = false, shown_ = true;
  std::map<std::string, LampLook> looks_;
  std::map<std::string, QPushButton*> tags_;
};

}  // namespace ignavo::app
