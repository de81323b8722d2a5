#include "document/workers.h"

#include <QThread>

namespace ignavo::app {

namespace {
// So many that a check need not wait for a compiler and a comparison.
class Pool : public QThreadPool {
 public:
  Pool() { setMaxThreadCount(QThread::idealThreadCount() + 2); }
};
}  // namespace

QThreadPool& workers() {
  static Pool pool;
  return pool;
}

}  // namespace ignavo::app
