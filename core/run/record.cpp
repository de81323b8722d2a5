#include "run/record.h"

namespace ignavo {

const SaidLine* noteUp(const std::vector<SaidLine>& said, const std::string& board,
                       Nanoseconds moment) {
  const SaidLine* note = nullptr;
  for (const SaidLine& line : said)
    if (line.note && line.board == board && line.at <= moment) note = &line;
  if (!note) return nullptr;
  const bool over = note->seconds > 0 && static_cast<double>(moment - note->at) * 1e-9 >=
                                             static_cast<double>(note->seconds);
  return over ? nullptr : note;
}

}  // namespace ignavo
