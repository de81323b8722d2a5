#pragma once
#include <optional>
#include <string>

#include "check/rule.h"

// What the rules about presses of a button have in common: which button moves a pin and how, and
// what a program does while it is held.
namespace ignavo {

constexpr double bounceSeconds = 0.003;  // real contacts come to rest within this

// A button that moves the level of a pin by being held.
struct Pressing {
  int part = -1;         // index in Project::parts
  bool high = false;     // the pin's level while it is held
  bool bounces = false;  // real contacts, and nothing smooths them
};
// The first such button on a pin (index in Circuit::pins); nothing: none moves it between high
// and low.
std::optional<Pressing> pressingOn(const CheckContext& c, int pin);

// What a test says of a pin. `then` and `otherwise`: that branch is gone into only while the pin
// has this level, whatever else the test asks for.
struct Implies {
  bool then = false, otherwise = false;
  bool alone = false;  // and the level alone decides
};
Implies implied(const Expr& test, const std::string& pin, bool high);

// Does a field of the step read the pin?
bool readsPin(const Step& step, const std::string& pin);
// Done twice it is something else than done once: it flips, counts, or sets a pin to what follows
// from its level.
bool addsUp(const Step& step);
// A wait in which the contacts of a button come to rest.
bool waitsLong(const Step& step);
// A field that is a plain number, at least 0; another value, or none, counts as `otherwise`.
double plainNumber(const Expr* field, double otherwise);

// The trigger of a lane that begins with the press.
Trigger startedBy(const std::string& pin, const Pressing& pressing);
// Waits 0.02 s, then asks again: what a lane does that an edge of a real button starts.
Steps pauseAndLook(Step look);
// The steps under a test, in a lane that the press starts: in place of the lane where that did
// nothing else but wait, else beside it. Nothing where the test asks for more than the press, or
// has an otherwise, or stands deeper than in the lane itself.
std::optional<Remedy> laneOfItsOwn(const CheckContext& c, const Lane& lane, const Step& test,
                                   const std::string& pin, const Pressing& pressing);

// The one step of those under a test, in a lane that the press starts, which asks the same once
// more. Nothing where the test stands under another one.
std::optional<Remedy> stepOfItsOwn(const CheckContext& c, const Lane& lane, const Step& test,
                                   const Step& step, const std::string& pin,
                                   const Pressing& pressing);

}  // namespace ignavo
