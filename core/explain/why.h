#pragma once
#include <functional>
#include <optional>
#include <string>
#include <vector>

#include "explain/fault.h"
#include "explain/looks.h"
#include "explain/moment.h"
#include "explain/pin_reason.h"

namespace ignavo {

// Why a lamp is dark, a sounder silent, a motor or an arm still; or why it is not. Three verdicts,
// each as if the others were sound: could the circuit have it work, with pins and buttons as one
// likes; would the program have it work, on a circuit that is sound; and which version is on the
// board. A function of a moment of a run, and of what the check knows to be amiss.
struct Why {
  std::string part;  // what was asked about (explain/output.h)
  OutputLook look;
  bool power = true;  // what feeds it is switched on and has not given up
  Message headline;   // "Red lamp is dark since 2.31 s"

  struct OfCircuit {
    bool fine = true;
    bool sure = false;            // it is not, and with what is named mended it would work
    std::string rule;             // of the check; empty: it is fine
    std::vector<Socket> sockets;  // where to look
    std::vector<std::string> parts;
    double amps = 0;  // that flow, or would flow
    Message words;
    void take(const Fault& fault, const Project& project);  // that is why
  } circuit;
  struct OfProgram {
    bool fine = true;
    std::vector<std::string> steps;  // ids of steps and lanes, the main one first
    std::optional<LastSet> lastSet;
    std::string board, pin;  // that it is about; empty: no pin has to do with it
    Message words;
    void take(const std::string& itsBoard, const std::string& itsPin, const PinReason& reason);
  } program;
  Message board;  // what is on the board

  Sentences sentence;  // all of it in one or two
};

// Of what gives something to see or hear, by its name (explain/output.h); nothing where it is none
// such. `more`: gives what is amiss with the circuit whatever the programs do (they may hide it);
// it is asked for only where `faults` tell nothing certain, and may take its time.
std::optional<Why> whyOf(const RunMoment& moment, const std::string& about,
                         const std::vector<Fault>& faults,
                         const std::function<std::vector<Fault>()>& more = {});

// Why a pin is as it is at a moment: who set it so and what keeps it, or, of one that no step
// writes, what holds it. Nothing where there is no such pin.
struct WhyPin {
  std::string board, pin;
  bool high = false;
  Nanoseconds since = -1;  // -1: it was never otherwise, as far as is known
  Message headline;        // "D4 · Red lamp is low since 2.31 s"
  bool byProgram = false;  // a step or a lane writes it
  Message circuit, program;
  std::vector<std::string> parts, steps;  // ids
  std::optional<LastSet> lastSet;
};
std::optional<WhyPin> whyPin(const RunMoment& moment, const std::string& board,
                             const std::string& pin, const std::vector<Fault>& faults);

}  // namespace ignavo
