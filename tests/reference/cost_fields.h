#pragma once
#include <utility>
#include <vector>

#include "program/costs.h"

namespace ignavo::test {

// The rows of the cost table that core/program/cost_rows.h has, by name.
inline const std::vector<std::pair<const char*, int CostTable::*>>& costFields() {
  static const std::vector<std::pair<const char*, int CostTable::*>> all{
      {"flipPin", &CostTable::flipPin},
      {"jump", &CostTable::jump},
      {"setPin", &CostTable::setPin},
      {"setPinTo", &CostTable::setPinTo},
      {"setLevel", &CostTable::setLevel},
      {"setLevelTo", &CostTable::setLevelTo},
      {"sound", &CostTable::sound},
      {"soundTo", &CostTable::soundTo},
      {"silence", &CostTable::silence},
      {"turnServo", &CostTable::turnServo},
      {"turnServoTo", &CostTable::turnServoTo},
      {"train", &CostTable::train},
      {"readKey", &CostTable::readKey},
      {"call", &CostTable::call},
      {"back", &CostTable::back},
      {"readPin", &CostTable::readPin},
      {"readLevel", &CostTable::readLevel},
      {"branch", &CostTable::branch},
      {"countStart", &CostTable::countStart},
      {"countTurn", &CostTable::countTurn},
      {"constant", &CostTable::constant},
      {"convert", &CostTable::convert},
      {"random", &CostTable::random},
      {"randomOfPower", &CostTable::randomOfPower},
      {"wait", &CostTable::wait},
      {"load", &CostTable::load},
      {"store", &CostTable::store},
      {"item", &CostTable::item},
      {"seconds", &CostTable::seconds},
      {"sense", &CostTable::sense},
      {"wave", &CostTable::wave},
      {"waveHertz", &CostTable::waveHertz},
      {"waveDuty", &CostTable::waveDuty},
      {"turn", &CostTable::turn},
      {"step", &CostTable::step},
      {"waiting", &CostTable::waiting},
      {"idle", &CostTable::idle},
      {"watch", &CostTable::watch},
      {"every", &CostTable::every},
      {"comes", &CostTable::comes},
      {"starts", &CostTable::starts},
      {"waitBegun", &CostTable::waitBegun},
      {"countTurnKept", &CostTable::countTurnKept},
      {"line", &CostTable::line},
      {"counting", &CostTable::counting}};
  return all;
}

}  // namespace ignavo::test
