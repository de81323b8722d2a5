#pragma once
#include <QString>
#include <vector>

#include "document/document.h"
#include "run/run_control.h"

namespace ignavo::app {

// When what the check found of the circuit came true in the run that is shown: each finding once,
// at the first moment at which pins and buttons stood as in its combination. Looks further only
// where the run went on since.
class FindingMoments {
 public:
  FindingMoments(Document& document, RunControl& run) : doc_(document), run_(run) {}
  struct Moment {
    Nanoseconds at = 0;
    Severity severity = Severity::warning;
    QString words;  // "Green lamp gets 91 mA"
  };
  std::vector<Moment> all();
  void forget();  // another check, or another run

 private:
  struct Looked {
    Finding finding;
    Nanoseconds at = -1, searched = -1;
  };
  void begin();

  Document& doc_;
  RunControl& run_;
  std::vector<Looked> looked_;
  bool begun_ = false;
  Nanoseconds end_ = 0;  // of the trace, when it was looked at last
};

}  // namespace ignavo::app
