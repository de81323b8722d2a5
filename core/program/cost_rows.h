#pragma once

// Cycles, as they were measured on the chip's core. Written by scripts/measure-costs; how it
// measures stands in tests/reference/measured_costs.h, and a test keeps to it.
namespace ignavo::measured {

inline constexpr int flipPin = 2;
inline constexpr int jump = 2;
inline constexpr int setPin = 2;
inline constexpr int setPinTo = 4;
inline constexpr int setLevel = 8;
inline constexpr int setLevelTo = 448;
inline constexpr int sound = 900;
inline constexpr int soundTo = 1550;
inline constexpr int silence = 2;
inline constexpr int turnServo = 890;
inline constexpr int turnServoTo = 1270;
inline constexpr int train = 700;
inline constexpr int readKey = 4;
inline constexpr int call = 30;
inline constexpr int back = 20;
inline constexpr int readPin = 1;
inline constexpr int readLevel = 718;
inline constexpr int branch = 2;
inline constexpr int countStart = 4;
inline constexpr int countTurn = 7;
inline constexpr int constant = 4;
inline constexpr int convert = 55;
inline constexpr int random = 885;
inline constexpr int randomOfPower = 264;
inline constexpr int wait = 480;
inline constexpr int load = 8;
inline constexpr int store = 8;
inline constexpr int item = 20;
inline constexpr int seconds = 518;
inline constexpr int sense = 15;
inline constexpr int wave = 70;
inline constexpr int waveHertz = 552;
inline constexpr int waveDuty = 247;
inline constexpr int turn = 226;
inline constexpr int step = 49;
inline constexpr int waiting = 38;
inline constexpr int idle = 5;
inline constexpr int watch = 15;
inline constexpr int every = 119;
inline constexpr int comes = 102;
inline constexpr int starts = 60;
inline constexpr int waitBegun = 72;
inline constexpr int countTurnKept = 28;
inline constexpr int line = 114;
inline constexpr int counting = 52;

// With whole operands, and with floats.
struct OperatorCost {
  const char* name;
  int whole, real;
};
inline constexpr OperatorCost operators[] = {
    {"or", 2, 2},    {"and", 2, 2},     {"not", 1, 1},   {"=", 5, 45},      {"≠", 5, 45},
    {"<", 5, 40},    {"≤", 5, 40},      {">", 5, 40},    {"≥", 5, 40},      {"+", 4, 82},
    {"-", 4, 83},    {"*", 57, 117},    {"/", 440, 513}, {"mod", 620, 272}, {"min", 12, 50},
    {"max", 12, 50}, {"round", 1, 498}, {"abs", 6, 4},   {"map", 700, 661},
};

}  // namespace ignavo::measured
