#include "body/motion_files.h"

#include "body/body_points.h"
#include "model/input_error.h"

#include <Eigen/Geometry>

#include <array>
#include <cmath>
#include <fstream>
#include <iomanip>
#include <numbers>
#include <ostream>
#include <string>
#include <string_view>
#include <vector>

namespace kestrel::body {
namespace {

using Eigen::Matrix3d;
using Eigen::Vector3d;
using model::Landmark;

/// Places of all landmarks of the body at a time, in the axes of the files, metres.
using Placed = std::array<Vector3d, pointCount>;

Placed placedAt(const FittedBody& body, model::Seconds time, model::Metres height) {
    const double azimuth = body.target() ? body.target()->radians : 0.0;
    Matrix3d axes;
    axes.row(0) = Vector3d(std::cos(azimuth), std::sin(azimuth), 0.0);
    axes.row(1) = Vector3d::UnitZ();
    axes.row(2) = Vector3d(axes.row(0)).cross(Vector3d(axes.row(1)));
    const Vector3d ground(0.0, 0.0, body.groundBh());
    Placed placed;
    for (std::size_t p = 0; p < pointCount; ++p) {
        placed[p] = height.value * (axes * (body.place({landmarkAt(p), time}) - ground));
    }
    return placed;
}

/// A joint and the bone that begins at it, of somebody who stands upright with hanging arms and
/// looks along X.
struct Joint {
    std::string_view name;
    int parent;          ///< earlier in the list; −1: the root
    Part reach;          ///< from the parent's joint to this one, along `way`
    double share;        ///< of that length; 0: the joint lies where its parent does
    Vector3d way;        ///< of unit length
    Part bone;           ///< that begins here
    Vector3d boneWay;    ///< of unit length
    std::size_t toPoint; ///< where the bone ends
    bool ends;           ///< nothing follows but the end of the bone
};

enum Index : int { hips, spine = 7 };

const std::vector<Joint>& joints() {
    static const std::vector<Joint> all = [] {
        const Vector3d up = Vector3d::UnitY();
        const Vector3d down = -up;
        const Vector3d forward = Vector3d::UnitX();
        std::vector<Joint> list{
            {"Hips", -1, Part::hips, 0.0, up, Part::trunk, up, pointCount, false}};
        const auto addLeg = [&](bool left) {
            const auto of = [left](Pair pair) { return left ? pair.left : pair.right; };
            const Vector3d side = (left ? -1.0 : 1.0) * Vector3d::UnitZ();
            const auto at = static_cast<int>(list.size());
            list.push_back({left ? "LeftUpLeg" : "RightUpLeg", hips, Part::hips, 0.5, side,
                            Part::thigh, down, of(kneePair), false});
            list.push_back({left ? "LeftLeg" : "RightLeg", at, Part::thigh, 1.0, down, Part::shank,
                            down, of(anklePair), false});
            list.push_back({left ? "LeftFoot" : "RightFoot", at + 1, Part::shank, 1.0, down,
                            Part::toeToAnkle, forward, of(toePair), true});
        };
        addLeg(true);
        addLeg(false);
        list.push_back({"Spine", hips, Part::hips, 0.0, up, Part::trunk, up, pointCount, false});
        const auto addArm = [&](bool left) {
            const auto of = [left](Pair pair) { return left ? pair.left : pair.right; };
            const Vector3d side = (left ? -1.0 : 1.0) * Vector3d::UnitZ();
            const auto at = static_cast<int>(list.size());
            list.push_back({left ? "LeftShoulder" : "RightShoulder", spine, Part::trunk, 1.0, up,
                            Part::shoulders, side, of(shoulderPair), false});
            list.push_back({left ? "LeftArm" : "RightArm", at, Part::shoulders, 0.5, side,
                            Part::upperArm, down, of(elbowPair), false});
            list.push_back({left ? "LeftForeArm" : "RightForeArm", at + 1, Part::upperArm, 1.0,
                            down, Part::forearm, down, of(wristPair), false});
            list.push_back({left ? "LeftHand" : "RightHand", at + 2, Part::forearm, 1.0, down,
                            Part::hand, down, of(handPair), true});
        };
        addArm(true);
        addArm(false);
        const auto neck = static_cast<int>(list.size());
        list.push_back(
            {"Neck", spine, Part::trunk, 1.0, up, Part::neck, up, indexOf(Landmark::head), false});
        list.push_back(
            {"Head", neck, Part::neck, 1.0, up, Part::head, up, indexOf(Landmark::headTop), true});
        return list;
    }();
    return all;
}

Vector3d middle(const Placed& placed, Pair pair) {
    return 0.5 * (placed[pair.left] + placed[pair.right]);
}

/// How a part of the trunk lies: Y along it, Z to the player's right, X to the front.
Matrix3d trunkAxes(const Vector3d& along, const Vector3d& left) {
    Matrix3d axes;
    axes.col(1) = along.normalized();
    axes.col(0) = left.cross(Vector3d(axes.col(1))).normalized();
    axes.col(2) = Vector3d(axes.col(0)).cross(Vector3d(axes.col(1)));
    return axes;
}

/// The rotation of each joint against the world.
std::vector<Matrix3d> rotations(const Placed& placed) {
    const Vector3d hipsMiddle = middle(placed, hipPair);
    const Vector3d neck = middle(placed, shoulderPair);
    std::vector<Matrix3d> all;
    for (std::size_t j = 0; j < joints().size(); ++j) {
        const Joint& joint = joints()[j];
        if (joint.toPoint == pointCount) {
            const Pair pair = static_cast<int>(j) == hips ? hipPair : shoulderPair;
            // The pelvis lies square to its own breadth; the trunk as it leans.
            const Vector3d left = placed[pair.left] - placed[pair.right];
            const Vector3d trunk = neck - hipsMiddle;
            const Vector3d across = left.normalized();
            all.push_back(static_cast<int>(j) == hips
                              ? trunkAxes(trunk - trunk.dot(across) * across, left)
                              : trunkAxes(trunk, left));
            continue;
        }
        const Matrix3d& parent = all[static_cast<std::size_t>(joint.parent)];
        Vector3d from = neck; // collars and neck begin between the shoulders
        if (joint.parent == hips) {
            from = placed[joint.name == "LeftUpLeg" ? hipPair.left : hipPair.right];
        } else if (joint.parent != spine) {
            from = placed[joints()[static_cast<std::size_t>(joint.parent)].toPoint];
        }
        const auto turn = Eigen::Quaterniond::FromTwoVectors(parent * joint.boneWay,
                                                             placed[joint.toPoint] - from);
        all.push_back(turn.toRotationMatrix() * parent);
    }
    return all;
}

constexpr double centimetres = 100.0;

void writeOffset(std::ostream& out, const std::string& margin, const Vector3d& offset) {
    out << margin << "OFFSET " << offset.x() << ' ' << offset.y() << ' ' << offset.z() << '\n';
}

void writeJoint(std::ostream& out, const FittedBody& body, double scale, std::size_t j,
                const std::string& margin) {
    const Joint& joint = joints()[j];
    const std::string inner = margin + "  ";
    out << margin << (joint.parent < 0 ? "ROOT " : "JOINT ") << joint.name << '\n'
        << margin << "{\n";
    writeOffset(out, inner, scale * joint.share * body.length(joint.reach) * joint.way);
    out << inner
        << (joint.parent < 0
                ? "CHANNELS 6 Xposition Yposition Zposition Zrotation Xrotation Yrotation\n"
                : "CHANNELS 3 Zrotation Xrotation Yrotation\n");
    for (std::size_t child = j + 1; child < joints().size(); ++child) {
        if (joints()[child].parent == static_cast<int>(j)) {
            writeJoint(out, body, scale, child, inner);
        }
    }
    if (joint.ends) {
        out << inner << "End Site\n" << inner << "{\n";
        writeOffset(out, inner + "  ", scale * body.length(joint.bone) * joint.boneWay);
        out << inner << "}\n";
    }
    out << margin << "}\n";
}

} // namespace

void writeTrc(std::ostream& out, const FittedBody& body, model::Metres standingHeight) {
    const auto times = body.times();
    const double span = (times.back() - times.front()).value;
    const double rate = span > 0.0 ? static_cast<double>(times.size() - 1) / span : 0.0;
    out << std::fixed << std::setprecision(4);
    out << "PathFileType\t4\t(X/Y/Z)\tbody.trc\n"
           "DataRate\tCameraRate\tNumFrames\tNumMarkers\tUnits\tOrigDataRate\tOrigDataStartFrame\t"
           "OrigNumFrames\n"
        << rate << '\t' << rate << '\t' << times.size() << '\t' << pointCount << "\tm\t" << rate
        << "\t1\t" << times.size() << "\nFrame#\tTime";
    for (std::size_t p = 0; p < pointCount; ++p) {
        out << '\t' << name(landmarkAt(p)) << "\t\t";
    }
    out << "\n\t";
    for (std::size_t i = 1; i <= pointCount; ++i) {
        out << "\tX" << i << "\tY" << i << "\tZ" << i;
    }
    out << "\n\n";
    for (std::size_t i = 0; i < times.size(); ++i) {
        out << i + 1 << '\t' << times[i].value;
        for (const Vector3d& at : placedAt(body, times[i], standingHeight)) {
            out << '\t' << at.x() << '\t' << at.y() << '\t' << at.z();
        }
        out << '\n';
    }
}

void writeBvh(std::ostream& out, const FittedBody& body, model::Metres standingHeight) {
    const double scale = centimetres * standingHeight.value;
    out << std::fixed << std::setprecision(4) << "HIERARCHY\n";
    writeJoint(out, body, scale, hips, {});
    const auto times = body.times();
    const auto steps = static_cast<double>(times.size() - 1);
    const double step = (times.back() - times.front()).value / steps;
    out << "MOTION\nFrames: " << times.size() << "\nFrame Time: " << std::setprecision(7) << step
        << std::setprecision(4) << '\n';
    for (std::size_t i = 0; i < times.size(); ++i) {
        const model::Seconds time(times.front().value + step * static_cast<double>(i));
        const Placed placed = placedAt(body, std::min(time, times.back()), standingHeight);
        const Vector3d root = centimetres * middle(placed, hipPair);
        out << root.x() << ' ' << root.y() << ' ' << root.z();
        const std::vector<Matrix3d> turns = rotations(placed);
        for (std::size_t j = 0; j < turns.size(); ++j) {
            const int parent = joints()[j].parent;
            const Matrix3d own =
                parent < 0
                    ? turns[j]
                    : Matrix3d(turns[static_cast<std::size_t>(parent)].transpose() * turns[j]);
            const Vector3d angles = own.eulerAngles(2, 0, 1) * (180.0 / std::numbers::pi);
            out << ' ' << angles.x() << ' ' << angles.y() << ' ' << angles.z();
        }
        out << '\n';
    }
}

void requireMotion(const FittedBody& body, std::optional<model::Metres> standingHeight) {
    if (!standingHeight) {
        throw model::InputError(model::message("body.height_unknown"),
                                model::message("safe.nothing_changed"),
                                model::message("todo.write_height"));
    }
    const auto times = body.times();
    const auto middleTime = [&](std::size_t i) {
        return model::Seconds(0.5 * (times[i].value + times[i + 1].value));
    };
    for (std::size_t i = 0; i + 1 < times.size(); ++i) {
        if (!body.covers(middleTime(i))) {
            throw model::InputError(model::message("body.single_instants"),
                                    model::message("safe.nothing_changed"),
                                    model::message("todo.propose_landmarks"));
        }
    }
}

void writeMotionFile(const std::filesystem::path& file, const FittedBody& body,
                     std::optional<model::Metres> standingHeight) {
    requireMotion(body, standingHeight);
    std::ofstream out(file);
    file.extension() == ".bvh" ? writeBvh(out, body, *standingHeight)
                               : writeTrc(out, body, *standingHeight);
    if (!out.flush()) {
        throw model::InputError(model::message("file.unwritable", file.string()),
                                model::message("safe.nothing_changed"),
                                model::message("todo.choose_other_place"));
    }
}

} // namespace kestrel::body
