#pragma once

#include <ceres/manifold.h>

#include <cmath>

/// Points that stay where they are seen. Only within this room.
namespace kestrel::body {

/// A point on the sight from the camera through it; it moves by its depth.
class AlongSight : public ceres::Manifold {
  public:
    /// `logDistance` is the camera's, wherever it stands now.
    explicit AlongSight(const double* logDistance) : logDistance_(logDistance) {}

    [[nodiscard]] int AmbientSize() const override { return 3; }
    [[nodiscard]] int TangentSize() const override { return 1; }
    bool Plus(const double* x, const double* delta, double* moved) const override {
        const double share = 1.0 - *delta / toCamera(x);
        moved[0] = share * x[0];
        moved[1] = share * x[1];
        moved[2] = x[2] + *delta;
        return true;
    }
    bool PlusJacobian(const double* x, double* jacobian) const override {
        jacobian[0] = -x[0] / toCamera(x);
        jacobian[1] = -x[1] / toCamera(x);
        jacobian[2] = 1.0;
        return true;
    }
    bool Minus(const double* y, const double* x, double* delta) const override {
        *delta = y[2] - x[2];
        return true;
    }
    bool MinusJacobian(const double* /*x*/, double* jacobian) const override {
        jacobian[0] = 0.0;
        jacobian[1] = 0.0;
        jacobian[2] = 1.0;
        return true;
    }

  private:
    [[nodiscard]] double toCamera(const double* x) const { return std::exp(*logDistance_) - x[2]; }

    const double* logDistance_;
};

} // namespace kestrel::body
