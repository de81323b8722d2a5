#pragma once
#include "electric/solver.h"
#include "electric/tolerances.h"

// What flows through each device at a solution, from the device equations alone.
namespace ignavo::electric {

double junctionAmps(const Junction& j, const Solution& s,
                    double leak = tolerances::junctionLeakSiemens);
double capacitorAmps(const Capacitor& c, const Solution& s);
double batteryAmps(const Battery& e, const Solution& s);
RegulatorPoint regulatorPoint(const Regulator& r, const Solution& s);
BipolarPoint bipolarPoint(const Bipolar& q, const Solution& s,
                          double leak = tolerances::junctionLeakSiemens);
double mosfetAmps(const Mosfet& m, const Solution& s,
                  double leak = tolerances::junctionLeakSiemens);
MotorPoint motorPoint(const Motor& m, const Solution& s);

// The largest sum of currents at a node, with so much leaking from each node to the
// reference. Takes the currents of the devices as the solution has them.
double imbalance(const Network& network, const Solution& s, bool leaking,
                 std::vector<double>& room);

}  // namespace ignavo::electric
