#pragma once
#include <optional>
#include <string>
#include <vector>

#include "parts/catalogue.h"
#include "text/message.h"

namespace ignavo {

// Places parts and wires on free rows of a breadboard, as people would: holes
// are named by column and row counted from the first reserved one ("c0", "i2").
// Rails are fed from the board when they are not yet. Anything that finds no
// room makes the whole fail with a sentence.
class Composer {
 public:
  // `board` and `pin` are what the circuit will hang on; the pin may be empty.
  Composer(const Project& project, std::string board, std::string pin);

  // So many consecutive rows that nothing uses, on both sides of the trench,
  // as near to the pin as there are any.
  void rows(int count);
  void part(const std::string& type, const std::vector<std::string>& holes,
            const std::vector<std::pair<std::string, PropValue>>& props = {});
  void wireFromPin(const std::string& hole);
  void wire(const std::string& from, const std::string& to);
  void ground(const std::string& hole);
  void supply(const std::string& hole);
  void pullUp();

  const Project& project() const { return project_; }
  const std::vector<std::string>& ids() const { return ids_; }
  const Message& problem() const { return problem_; }

 private:
  std::optional<Socket> hole(const std::string& relative);
  void join(const std::string& hole, bool plus);
  std::optional<Socket> fedRail(bool plus, bool left, Point near);
  std::optional<Socket> freePin(bool plus) const;
  std::optional<Socket> fedHole(bool plus, Point near) const;
  const BoardKind* kind() const;
  const SupplyKind* ownSupply() const;
  bool feeds(const BoardPin& pin, bool plus) const;
  bool fed(const Nets& nets, int net, bool plus) const;
  void lay(const Socket& from, const Socket& to);
  void fail(Message why);

  Project project_;
  std::string board_, pin_;
  std::string breadboard_;
  int row_ = 0;
  std::vector<std::string> ids_;
  Message problem_;
};

}  // namespace ignavo
