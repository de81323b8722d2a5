#pragma once
#include <map>
#include <optional>
#include <string>
#include <unordered_map>
#include <unordered_set>

#include "bench/placing.h"

namespace ignavo {

// The ids, names and sockets that are taken in a project, for a reader that adds to it thing by
// thing: what was added since it was looked at last is found without going through the rest.
class Taken {
 public:
  // What is asked from now on is asked of that project. Takes as long as what is new in it.
  void follow(const Project& project);

  // As the functions of those names say of a project.
  std::string freeId(const std::string& stem);
  std::string freeName(const std::string& wanted);
  std::string freeNumber(const std::string& stem);
  std::optional<Occupant> occupantOf(const Socket& socket) const;

 private:
  using Words = std::unordered_set<std::string>;
  // The first number behind each stem that is not known to be taken: only ever more are.
  using Firsts = std::unordered_map<std::string, std::size_t>;
  void forget();
  void add(const Part& part);
  void add(const Wire& wire);
  static std::string numbered(const std::string& stem, std::size_t from, const Words& taken,
                              Firsts& firsts);

  Project seen_;
  Words ids_, names_;
  Firsts firstIds_, firstNames_;
  Occupancy ends_, legs_;  // of wires, of parts
};

inline std::string freeId(Taken& taken, const std::string& stem) { return taken.freeId(stem); }
inline std::string freeName(Taken& taken, const std::string& wanted) {
  return taken.freeName(wanted);
}
inline std::string freeNumber(Taken& taken, const std::string& stem) {
  return taken.freeNumber(stem);
}

}  // namespace ignavo
