#include "parts/list.h"

namespace ignavo {

namespace {

constexpr double voltsOhms = 10e6;  // what a meter for volts takes so as not to disturb
constexpr double ampsOhms = 0.1;    // what it puts into the path to measure a current

}  // namespace

const PartKind& meterKind() {
  static const PartKind kind = [] {
    PartKind k;
    k.type = "meter";
    k.label = "Meter";
    k.category = "Sense";
    k.brief = "stays plugged in";
    k.idStem = "meter";
    k.typed = {"meter"};
    k.words = {"meter", "volt", "amp", "milliamp", "ohm", "measure", "probe", "continuity", "test"};
    k.what =
        "Shows what it measures between its two probes, and stays where it is plugged in. For a "
        "quick look E takes a meter into the hand.";
    k.place =
        "Volts and ohms: a probe on each side of a part. Milliamps: into the path, so that the "
        "current goes through the meter.";
    k.never = "Milliamps across a supply: it is as good as a wire then.";
    k.print.legs = {{"red", "red probe", true}, {"black", "black probe", true}};
    k.print.orientations = {
        {{0, 0}, {0, 2}}, {{0, 0}, {0, 1}}, {{0, 0}, {2, 0}}, {{0, 0}, {0, -2}}};
    k.print.leads = true;
    k.print.rest = {{-1, 5}, {1, 5}};
    k.print.bodyWidth = 5.6;
    k.print.bodyHeight = 7.6;
    k.props = {{"mode",
                "Measures",
                PropKind::Type::choice,
                "",
                0,
                0,
                0,
                {"volts", "amps", "ohms", "continuity"}}};
    k.measuresKey = "mode";
    k.buildRank = 8;
    k.nameOf = [](const Part&) { return std::string("Meter"); };
    k.shortText = [](const Part& p) {
      return "meter for " + p.text(meterKind().measuresKey, "volts");
    };
    k.devices = [](const Part& p) {
      // Ohms are measured with the power off, by the meter's own voltage (measuring.h).
      PartDevices d;
      const Measures what = meterKind().measures(p);
      if (what == Measures::volts) d.resistors = {{0, 1, voltsOhms}};
      if (what == Measures::amps) d.resistors = {{0, 1, ampsOhms}};
      return d;
    };
    return k;
  }();
  return kind;
}

}  // namespace ignavo
