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

// What parts say themselves. Of a lamp, a board's own as well: that it changes too fast to be seen,
// and a button that slows the run, then one that stops it and shows single changes; with calm
// lamps, how often one flashes that is shown steady. Of a sounder: how high it sounds, and a button
// that makes it heard, or mutes it. What is selected, and shows something, has a button that asks
// why it is so.
class PartTags : public QObject {
  Q_OBJECT
 public:
  PartTags(Document& document, RunControl& run, BenchView* bench);
  void setCalm(bool calm);
  bool isCalm() const { return calm_; }
  // Of a lamp that would flash more than three times a second: its mean light; else nothing.
  std::optional<double> steadyLight(const std::string& part) const;
  // Is there a sound card, and is it muted?
  void setHearing(bool available, bool muted);
  void refresh();
  void setShown(bool shown);  // not where the building of the real thing is looked at

 Q_SIGNALS:
  void hearWanted(bool hear);
  void closerLookWanted(Nanoseconds changesEvery);
  void whyWanted(const QString& part);

 private:
  void show(const std::string& part, const QString& said);
  QString words(const LampLook& look) const;
  QPushButton* tagOf(const std::string& part);
  void lookAtBoardLamps(const Snapshot& shown, const Trace& trace,
                        std::map<std::string, QString>& said);
  void showWhy();

  Document& doc_;
  RunControl& run_;
  BenchView* bench_;
  bool calm_ = false, shown_ = true, hears_ = false, muted_ = true;
  std::map<std::string, LampLook> looks_;
  std::map<std::string, QPushButton*> tags_;
  QPushButton* why_;
};

}  // namespace ignavo::app
