#include "synth/figure.h"

#include "synth/mesh.h"

#include <Eigen/Geometry>

#include <cmath>

namespace kestrel::synth {
namespace {

using model::Landmark;

Vector across(const Vector& axis) {
    const Vector helper = std::abs(axis.z()) < 0.9 ? Vector::UnitZ() : Vector::UnitX();
    return axis.cross(helper).normalized();
}

class Dresser {
  public:
    Dresser(const Pose& pose, double heightM, const Outfit& outfit, const Implement& implement,
            const Projectile* ball)
        : pose_(pose), h_(heightM), o_(outfit), implement_(implement), ball_(ball) {}

    std::vector<Mesh> dress() {
        trunk();
        head();
        for (const bool left : {true, false}) {
            arm(left);
            leg(left);
        }
        implement();
        ball();
        return std::move(meshes_);
    }

  private:
    [[nodiscard]] const Vector& at(Landmark left, bool isLeft) const {
        return pose_.at(isLeft ? left : model::mirrored(left));
    }

    void add(Mesh mesh) { meshes_.push_back(std::move(mesh)); }

    void trunk() {
        const Vector hips = 0.5 * (pose_.at(Landmark::leftHip) + pose_.at(Landmark::rightHip));
        const Vector neck =
            0.5 * (pose_.at(Landmark::leftShoulder) + pose_.at(Landmark::rightShoulder));
        const Vector hipLine =
            (pose_.at(Landmark::leftHip) - pose_.at(Landmark::rightHip)).normalized();
        const Vector shoulderLine =
            (pose_.at(Landmark::leftShoulder) - pose_.at(Landmark::rightShoulder)).normalized();
        const Vector up = (neck - hips).normalized();
        // Half width and half depth in body heights, from crotch to collar.
        struct Level {
            double t;
            double halfWidth;
            double halfDepth;
        };
        const auto ring = [&](const Level& l) {
            const Vector line = ((1.0 - l.t) * hipLine + l.t * shoulderLine).normalized();
            const Vector wide = (line - line.dot(up) * up).normalized();
            const Vector deep = up.cross(wide);
            return Ring{hips + l.t * (neck - hips), h_ * l.halfWidth * wide,
                        h_ * l.halfDepth * deep};
        };
        const auto sweep = [&](const std::vector<Level>& levels, const Colour& colour) {
            std::vector<Ring> rings;
            for (const Level& l : levels) {
                rings.push_back(ring(l));
            }
            add(swept(rings, colour));
        };
        sweep({{-0.20, 0.004, 0.004},
               {-0.18, 0.050, 0.045},
               {-0.10, 0.088, 0.062},
               {0.02, 0.094, 0.066},
               {0.14, 0.086, 0.062},
               {0.24, 0.082, 0.059}},
              o_.trousers);
        sweep({{0.19, 0.086, 0.063}, {0.22, 0.087, 0.0635}, {0.25, 0.086, 0.0625}}, o_.cap); // belt
        sweep({{0.22, 0.083, 0.060},
               {0.45, 0.088, 0.064},
               {0.68, 0.110, 0.074},
               {0.84, 0.126, 0.074},
               {0.95, 0.132, 0.062},
               {1.02, 0.108, 0.047},
               {1.07, 0.044, 0.034},
               {1.09, 0.004, 0.004}},
              o_.shirt);
        const Vector skull = pose_.at(Landmark::head);
        add(limb(neck, skull, {{0.1, 0.034 * h_}, {0.8, 0.031 * h_}}, o_.skin));
    }

    void head() {
        const Vector centre = pose_.at(Landmark::head);
        const Vector up = (pose_.at(Landmark::headTop) - centre).normalized();
        const Vector face = pose_.face;
        const Vector side = up.cross(face).normalized();
        const auto ellipse = [&](double wide, double deep, double tall, const Vector& offset,
                                 const Colour& colour, double from = -1.0) {
            add(ellipsoid(centre + h_ * offset, h_ * wide * side, h_ * deep * face, h_ * tall * up,
                          colour, from));
        };
        const Colour lips(0.35F, 0.12F, 0.10F);
        ellipse(0.045, 0.054, 0.062, Vector::Zero(), o_.skin);
        ellipse(0.037, 0.030, 0.036, 0.020 * face - 0.030 * up, o_.skin); // jaw
        ellipse(0.048, 0.050, 0.054, -0.012 * face - 0.004 * up, o_.hair);
        switch (o_.headwear) {
        case Headwear::none:
            ellipse(0.048, 0.056, 0.050, -0.004 * face + 0.016 * up, o_.hair, 0.10);
            break;
        case Headwear::cap:
            ellipse(0.049, 0.058, 0.052, 0.012 * up, o_.cap, 0.15);
            ellipse(0.041, 0.040, 0.006, 0.060 * face + 0.024 * up, o_.cap); // peak
            break;
        case Headwear::helmet:
            ellipse(0.056, 0.066, 0.064, -0.004 * face + 0.010 * up, o_.cap, -0.05);
            ellipse(0.056, 0.040, 0.040, -0.028 * face - 0.006 * up, o_.cap);
            break;
        }
        ellipse(0.007, 0.012, 0.012, 0.054 * face - 0.010 * up, o_.skin); // nose
        for (const double s : {-1.0, 1.0}) {
            ellipse(0.008, 0.006, 0.006, 0.048 * face + s * 0.018 * side + 0.004 * up,
                    Colour(0.75F, 0.75F, 0.75F));
            ellipse(0.004, 0.004, 0.005, 0.053 * face + s * 0.018 * side + 0.004 * up,
                    Colour(0.03F, 0.02F, 0.02F));
            ellipse(0.010, 0.004, 0.003, 0.051 * face + s * 0.018 * side + 0.013 * up,
                    o_.hair);                                                     // brow
            ellipse(0.006, 0.010, 0.014, s * 0.046 * side - 0.004 * up, o_.skin); // ear
        }
        ellipse(0.014, 0.005, 0.003, 0.048 * face - 0.034 * up, lips);
    }

    void arm(bool left) {
        const Vector& shoulder = at(Landmark::leftShoulder, left);
        const Vector& elbow = at(Landmark::leftElbow, left);
        const Vector& wrist = at(Landmark::leftWrist, left);
        const Vector& hand = at(Landmark::leftHand, left);
        add(limb(shoulder, elbow, {{0.0, 0.039 * h_}, {0.3, 0.036 * h_}, {0.55, 0.033 * h_}},
                 o_.shirt));
        add(limb(shoulder, elbow, {{0.45, 0.026 * h_}, {1.0, 0.0215 * h_}},
                 o_.longSleeves ? o_.shirt : o_.skin));
        add(limb(elbow, wrist, {{0.0, 0.0215 * h_}, {0.28, 0.0235 * h_}, {1.0, 0.0155 * h_}},
                 o_.longSleeves ? o_.shirt : o_.skin));
        const Vector along = (hand - wrist).normalized();
        const auto fromGlove = [&](const Vector& point) {
            return (pose_.at(Landmark::glove) - point).norm();
        };
        if (pose_.has(Landmark::glove) &&
            fromGlove(hand) < fromGlove(at(Landmark::leftHand, !left))) {
            glove(hand, along);
        } else if (pose_.grips[left ? 0 : 1]) {
            fist(wrist, hand, along);
        } else {
            openHand(wrist, hand, along);
        }
    }

    void glove(const Vector& hand, const Vector& along) {
        const Vector wide = across(along);
        const Vector deep = along.cross(wide);
        add(ellipsoid(hand + 0.022 * h_ * along, h_ * 0.056 * wide, h_ * 0.030 * deep,
                      h_ * 0.066 * along, o_.glove));
        add(limb(hand + 0.03 * h_ * wide, hand + h_ * (0.066 * wide + 0.05 * along),
                 {{0.0, 0.016 * h_}, {1.0, 0.013 * h_}}, o_.glove));
    }

    /// Fingers closed round something.
    void fist(const Vector& wrist, const Vector& hand, const Vector& along) {
        const Colour& colour = o_.longSleeves ? o_.glove : o_.skin; // hockey gloves
        const double size = o_.longSleeves ? 1.5 : 1.0;
        const Vector round =
            pose_.has(Landmark::implementButt)
                ? Vector(pose_.at(Landmark::implementTip) - pose_.at(Landmark::implementButt))
                : across(along);
        const Vector shaft = round.normalized();
        Vector wide = along - along.dot(shaft) * shaft;
        wide = wide.norm() > 0.1 ? Vector(wide.normalized()) : across(shaft);
        const Vector deep = shaft.cross(wide);
        add(ellipsoid(hand, h_ * size * 0.024 * wide, h_ * size * 0.020 * deep,
                      h_ * size * 0.027 * shaft, colour));
        add(limb(wrist, hand, {{0.0, 0.0155 * h_}, {0.8, size * 0.017 * h_}}, colour));
    }

    void openHand(const Vector& wrist, const Vector& hand, const Vector& along) {
        const Vector wide = across(along);
        const Vector deep = along.cross(wide);
        add(ellipsoid(wrist + 0.5 * (hand - wrist), h_ * 0.023 * wide, h_ * 0.012 * deep,
                      h_ * 0.034 * along, o_.skin));
        for (int finger = 0; finger < 4; ++finger) {
            const Vector base = hand + h_ * (0.012 * finger - 0.018) * wide;
            const Vector tip = base + h_ * (0.040 * along + 0.010 * deep);
            add(limb(base - 0.01 * h_ * along, tip, {{0.0, 0.0062 * h_}, {1.0, 0.0050 * h_}},
                     o_.skin));
        }
        add(limb(wrist + 0.012 * h_ * wide, hand + 0.030 * h_ * wide,
                 {{0.0, 0.008 * h_}, {1.0, 0.006 * h_}}, o_.skin));
    }

    void leg(bool left) {
        const Vector& hip = at(Landmark::leftHip, left);
        const Vector& knee = at(Landmark::leftKnee, left);
        const Vector& ankle = at(Landmark::leftAnkle, left);
        const Vector& heel = at(Landmark::leftHeel, left);
        const Vector& toe = at(Landmark::leftToe, left);
        const std::vector<Girth> calf{
            {0.0, 0.030 * h_}, {0.3, 0.032 * h_}, {0.6, 0.026 * h_}, {1.0, 0.020 * h_}};
        if (o_.shorts) {
            add(limb(hip, knee, {{-0.05, 0.052 * h_}, {0.15, 0.058 * h_}, {0.62, 0.054 * h_}},
                     o_.trousers));
            add(limb(hip, knee, {{0.4, 0.044 * h_}, {0.8, 0.034 * h_}, {1.0, 0.031 * h_}},
                     o_.skin));
            add(limb(knee, ankle, calf, o_.skin));
            add(limb(knee, ankle, {{0.78, 0.0235 * h_}, {1.0, 0.021 * h_}}, o_.socks));
        } else {
            add(limb(
                hip, knee,
                {{-0.05, 0.050 * h_}, {0.15, 0.055 * h_}, {0.5, 0.047 * h_}, {1.0, 0.035 * h_}},
                o_.trousers));
            add(limb(knee, ankle, {{0.0, 0.035 * h_}, {0.25, 0.037 * h_}, {0.5, 0.033 * h_}},
                     o_.trousers));
            add(limb(knee, ankle, calf, o_.socks));
        }
        // The shoe stands on the sole line heel–toe; it is built upwards from there.
        const Vector along = (toe - heel).normalized();
        const Vector wide = along.cross(ankle - heel).normalized();
        const Vector up = wide.cross(along);
        struct Cut {
            double t;
            double halfWidth;
            double height;
        };
        std::vector<Ring> rings;
        for (const Cut& cut :
             {Cut{-0.02, 0.002, 0.004}, Cut{0.0, 0.016, 0.030}, Cut{0.15, 0.021, 0.046},
              Cut{0.4, 0.022, 0.038}, Cut{0.7, 0.027, 0.026}, Cut{0.92, 0.022, 0.020},
              Cut{1.0, 0.012, 0.012}, Cut{1.01, 0.002, 0.004}}) {
            const Vector sole = heel + cut.t * (toe - heel);
            rings.push_back({sole + 0.5 * h_ * cut.height * up, h_ * cut.halfWidth * wide,
                             0.5 * h_ * cut.height * up});
        }
        add(swept(rings, o_.shoes));
    }

    void implement() {
        if (implement_.kind == ImplementKind::none) {
            return;
        }
        const Vector& butt = pose_.at(Landmark::implementButt);
        const Vector& head = pose_.at(Landmark::implementHead);
        const Vector& tip = pose_.at(Landmark::implementTip);
        const Vector& face = pose_.implementFace;
        switch (implement_.kind) {
        case ImplementKind::none:
            break;
        case ImplementKind::bat:
            add(limb(butt, tip,
                     {{0.0, 0.022}, {0.03, 0.013}, {0.4, 0.015}, {0.7, 0.031}, {0.96, 0.033}},
                     o_.implement));
            break;
        case ImplementKind::racket: {
            const Vector shaft = (tip - butt).normalized();
            const double round = 0.5 * implement_.faceWidthM;
            const double stretch = implement_.faceLengthM / implement_.faceWidthM;
            const Vector throat = head - 0.5 * implement_.faceLengthM * shaft;
            add(limb(butt, butt + 0.18 * shaft, {{0.0, 0.017}, {1.0, 0.015}}, dark));
            add(limb(butt + 0.17 * shaft, throat, {{0.0, 0.012}, {1.0, 0.010}}, o_.implement));
            add(torus(head, round, 0.011, o_.implement, face, shaft, stretch));
            const Vector wide = shaft.cross(face);
            constexpr int strings = 6; // enough to look like a string bed
            for (int i = 1; i < strings; ++i) {
                const double u = 2.0 * i / strings - 1.0;
                const double half = std::sqrt(1.0 - u * u);
                const Vector a = head + u * round * wide;
                const Vector b = head + u * round * stretch * shaft;
                add(limb(a - half * round * stretch * shaft, a + half * round * stretch * shaft,
                         {{0.0, 0.0022}, {1.0, 0.0022}}, strung));
                add(limb(b - half * round * wide, b + half * round * wide,
                         {{0.0, 0.0022}, {1.0, 0.0022}}, strung));
            }
            break;
        }
        case ImplementKind::paddle: {
            const Vector shaft = (tip - butt).normalized();
            const Vector wide = shaft.cross(face);
            add(limb(butt, head, {{0.0, 0.014}, {0.55, 0.014}}, o_.implement));
            for (const double side : {1.0, -1.0}) {
                add(ellipsoid(head + side * 0.004 * face, 0.5 * implement_.faceWidthM * wide,
                              0.004 * face, 0.5 * implement_.faceLengthM * shaft,
                              side > 0.0 ? Colour(0.45F, 0.04F, 0.04F) : dark));
            }
            break;
        }
        case ImplementKind::stick: {
            const Vector heel = tip - implement_.faceLengthM * (tip - head).normalized();
            // A loaded shaft bows away from the side it pushes to.
            const double bow = 0.25 * pose_.implementBend * (heel - butt).norm();
            std::vector<Ring> rings;
            const Vector along = (heel - butt).normalized();
            const Vector wide = along.cross(face);
            constexpr int cuts = 8;
            for (int i = 0; i <= cuts; ++i) {
                const double t = static_cast<double>(i) / cuts;
                const Vector middle = butt + t * (heel - butt) - 4.0 * t * (1.0 - t) * bow * face;
                rings.push_back({middle, 0.014 * wide, 0.010 * face});
            }
            add(swept(rings, o_.implement));
            const Vector blade = (tip - heel).normalized();
            const Vector tall = blade.cross(face).normalized();
            std::vector<Ring> cutsOfBlade;
            for (const double t : {-0.02, 0.0, 0.5, 0.95, 1.0}) {
                const double half = t < 0.0 || t == 1.0 ? 0.008 : 0.03;
                cutsOfBlade.push_back(
                    {heel + t * implement_.faceLengthM * blade + 0.02 * Vector::UnitZ(),
                     half * tall, 0.006 * face});
            }
            add(swept(cutsOfBlade, dark));
            break;
        }
        }
    }

    void ball() {
        if (ball_ == nullptr || !pose_.has(Landmark::ball)) {
            return;
        }
        const Vector& at = pose_.at(Landmark::ball);
        const double r = ball_->radiusM;
        const double tall = ball_->sliding ? 0.0127 : r;
        add(ellipsoid(at, r * Vector::UnitX(), r * Vector::UnitY(), tall * Vector::UnitZ(),
                      ballColour()));
    }

    [[nodiscard]] Colour ballColour() const {
        const std::string_view name = ball_->name;
        if (name == "tennis_ball" || name == "softball") {
            return {0.62F, 0.72F, 0.10F};
        }
        if (name == "basketball") {
            return {0.50F, 0.20F, 0.06F};
        }
        if (name == "volleyball") {
            return {0.75F, 0.70F, 0.30F};
        }
        if (name == "puck" || name == "squash_ball") {
            return dark;
        }
        return {0.85F, 0.85F, 0.82F};
    }

    inline static const Colour dark{0.04F, 0.04F, 0.045F};
    inline static const Colour strung{0.70F, 0.70F, 0.66F};

    const Pose& pose_;
    double h_;
    const Outfit& o_;
    const Implement& implement_;
    const Projectile* ball_;
    std::vector<Mesh> meshes_;
};

} // namespace

std::vector<Mesh> figure(const Pose& pose, double heightM, const Outfit& outfit,
                         const Implement& implement, const Projectile* ball) {
    return Dresser(pose, heightM, outfit, implement, ball).dress();
}

} // namespace kestrel::synth
