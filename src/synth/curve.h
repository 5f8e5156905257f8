#pragma once

#include <vector>

/// One channel of a motion: a number that changes smoothly with time.
namespace kestrel::synth {

struct CurveKey {
    double time = 0.0; ///< seconds
    double value = 0.0;
};

/// How a curve comes to a key from before.
enum class Arrival {
    smooth,  ///< slows down into a rest
    striking ///< keeps its speed and stops dead, as a foot does that meets the ground
};

/// A curve through keys: between two of them a quintic whose slopes are those of a shape-preserving
/// cubic (Fritsch and Butland 1984) and whose acceleration at the keys is nothing, so that it never
/// overshoots and a move from rest to rest is the minimum-jerk one (Flash and Hogan 1985). Constant
/// outside its keys.
class Curve {
  public:
    Curve() = default; ///< 0 at all times
    explicit Curve(double constant) : keys_{{0.0, constant}}, slopesIn_{0.0}, slopesOut_{0.0} {}
    /// Keys in ascending order of time, at least one. `arrival` is how the curve comes to keys
    /// after which it rests at its lowest value.
    explicit Curve(std::vector<CurveKey> keys, Arrival arrival = Arrival::smooth);

    double operator()(double time) const;

  private:
    std::vector<CurveKey> keys_;
    std::vector<double> slopesIn_;  ///< on coming to a key
    std::vector<double> slopesOut_; ///< on leaving it
};

} // namespace kestrel::synth
