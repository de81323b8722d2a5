#include "explain/words.h"

#include <cmath>

namespace ignavo {

Message momentInWords(Nanoseconds at) {
  constexpr Nanoseconds atOnce = 1'000'000;
  if (at < atOnce) return sayWhy("power-on");
  if (at < second) return sayWhy("{}", asSeconds(inSeconds(at)));
  // To the hundredth, however late it is.
  const double hundredths = std::round(inSeconds(at) * 100) / 100;
  return sayWhy("{} s", asNumber(hundredths, 12));
}

std::string pinNameOf(const Project& project, const std::string& board, const std::string& pin) {
  return project.boards.size() > 1 ? board + "." + pin : pin;
}

}  // namespace ignavo
