#pragma once
#include <functional>
#include <optional>
#include <string>
#include <vector>

#include "project/program_model.h"
#include "run/trace.h"
#include "text/message.h"

namespace ignavo {

// When something came to be so: the condition language of the steps, asked of a trace.
struct FoundWhen {
  std::optional<Nanoseconds> at;
  // It cannot be asked of a trace, and why; or it was given up (`cancelled`, or too many edges).
  std::optional<Message> problem;
  // Variables that it asks for and the trace does not have; `problem` says so as well.
  std::vector<Signal> missing;
};

// The first moment after `after` at which `test` becomes true, as far as the trace goes; asked from
// before the beginning of the trace, also that, where it is so then already. What names a part (its
// id in place of a pin) asks whether that lamp is lit, as the eye sees it. Pins are those of that
// board, as their levels were recorded, variables those of its program, where they
// were recorded; asked of them: whatever is worked out of them and of numbers, rise and fall, held
// for.
FoundWhen findWhen(const Trace& trace, const std::string& board, const Expr& test,
                   Nanoseconds after, const std::function<bool()>& cancelled = {});

}  // namespace ignavo
