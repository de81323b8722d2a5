// What the demos do under the presses that tests/traces writes down, 600 simulated seconds each:
// every edge of every pin and every current, to the nanosecond and the last bit. A change of the
// kernel that is meant to change nothing changes no digest here; one that is meant to, changes
// them on purpose.
#include <QtTest>
#include <cinttypes>
#include <cstdio>
#include <fstream>
#include <sstream>

#include "support/demo_rows.h"

using namespace ignavo;
using namespace ignavo::test;

namespace {

struct Script {
  std::string digest;
  std::int64_t edges = 0;
  std::vector<Input> inputs;
};

Input inputOf(double seconds, const std::string& words) {
  using What = Input::What;
  std::istringstream in(words);
  std::string verb, rest;
  in >> verb >> rest;
  const std::size_t dot = rest.find('.'), equals = rest.find('=');
  const std::string value = equals == std::string::npos ? "" : rest.substr(equals + 1);
  if (verb == "press") return at(seconds, What::press, rest);
  if (verb == "release") return at(seconds, What::release, rest);
  if (verb == "set")
    return at(seconds, What::setProp, rest.substr(0, dot), rest.substr(dot + 1, equals - dot - 1),
              std::stod(value));
  if (verb == "pin")
    return at(seconds, What::drivePin, "b1", rest.substr(0, equals), value == "high" ? 100.0 : 0.0);
  if (verb == "reset") return at(seconds, What::reset);
  if (verb == "power") return at(seconds, rest == "on" ? What::powerOn : What::powerOff);
  qFatal("not a line of a script: %s", words.c_str());
}

Script scriptOf(const std::string& name) {
  std::ifstream file(std::string(SOURCE_DIR) + "/tests/traces/" + name + ".txt");
  Script out;
  std::string line;
  while (std::getline(file, line)) {
    std::istringstream in(line);
    std::string first, rest;
    in >> first;
    std::getline(in >> std::ws, rest);
    if (first == "digest")
      out.digest = rest;
    else if (first == "edges")
      out.edges = std::stoll(rest);
    else
      out.inputs.push_back(inputOf(std::stod(first), rest));
  }
  return out;
}

// FNV-1a of every edge of every signal: its place, its moment, the bits of its value.
class Digest {
 public:
  void add(const void* bytes, std::size_t count) {
    for (std::size_t i = 0; i < count; ++i)
      hash_ = (hash_ ^ static_cast<const unsigned char*>(bytes)[i]) * 0x100000001B3u;
  }
  std::string text() const {
    char out[17];
    std::snprintf(out, sizeof out, "%016" PRIx64, hash_);
    return out;
  }

 private:
  std::uint64_t hash_ = 0xCBF29CE484222325u;
};

}  // namespace

class TestDemoTraces : public QObject {
  Q_OBJECT
 private Q_SLOTS:
  void theDemosDoWhatTheyDid_data() { rowPerDemo(); }
  void theDemosDoWhatTheyDid() {
    QFETCH(QString, name);
    const Script script = scriptOf(name.toStdString());
    QVERIFY2(!script.inputs.empty(), "no script");
    Kernel kernel(demoProject(name));
    for (const Input& input : script.inputs) kernel.schedule(input);
    kernel.advance(600 * second);
    const Trace& trace = kernel.trace();
    QCOMPARE(trace.begin(), Nanoseconds{0});
    Digest digest;
    std::int64_t edges = 0;
    for (int s = 0; s < static_cast<int>(trace.signals().size()); ++s)
      trace.forEachEdge(s, -1, trace.end(), [&](const Edge& e) {
        digest.add(&s, sizeof s);
        digest.add(&e.at, sizeof e.at);
        digest.add(&e.value, sizeof e.value);
        ++edges;
        return true;
      });
    QCOMPARE(edges, script.edges);
    QCOMPARE(QString::fromStdString(digest.text()), QString::fromStdString(script.digest));
  }
};

QTEST_APPLESS_MAIN(TestDemoTraces)
#include "tst_demo_traces.moc"
