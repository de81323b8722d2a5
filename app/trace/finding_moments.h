#pragma once
#include <QString>
#include <vector>

#include "document/document.h"
#include "run/run_control.h"

namespace ignavo::app {

// When what the check found of the circuit came true in the run that is shown: each finding once,
// at the first moment at which pins and buttons stood as in its combination, of those that an edit
// brought from that edit on. Looks further only where the run went on since.
class FindingMoments {
 public:
  FindingMoments(Document& document, RunControl& run) : doc_(document), run_(run) {}
  struct Moment {
    Nanoseconds at = 0;
    Severity severity = Severity::warning;
    QString words;  // "Green lamp gets 91 mA"
  };
  std::vector<Moment> all();
  void checkedAgain() { begun_ = false; }

 private:
  struct Looked {
    Finding finding;
    Nanoseconds since = -1;  // behind that it can be so: the edit that brought it
    bool isNew = false;      // the check before had it not
    Nanoseconds at = -1, searched = -1;
  };
  void begin();
  void look(Looked& one, Nanoseconds edited) const;

  Document& doc_;
  RunControl& run_;
  std::vector<Looked> looked_;
  bool begun_ = false;
  Nanoseconds end_ = 0;  // of the trace, when it was looked at last
};

}  // namespace ignavo::app
