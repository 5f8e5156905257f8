#include "body/motion_files.h"
#include "model/input_error.h"
#include "support/test_films.h"
#include "support/true_body.h"

#include <Eigen/Geometry>

#include <QTemporaryDir>
#include <QTest>

#include <fstream>
#include <map>
#include <numbers>
#include <sstream>
#include <vector>

using namespace kestrel;
using Eigen::Matrix3d;
using Eigen::Vector3d;
using model::Landmark;

namespace {

struct BvhJoint {
    std::string name;
    int parent = -1;
    Vector3d offset = Vector3d::Zero();
    std::vector<std::string> channels;
};

/// A reader of BVH that knows nothing of how the program writes it.
struct Bvh {
    std::vector<BvhJoint> joints;
    double step = 0.0;
    std::vector<std::vector<double>> frames;

    explicit Bvh(std::istream& in) {
        std::vector<int> open;
        std::string word;
        while (in >> word && word != "MOTION") {
            if (word == "ROOT" || word == "JOINT" || word == "End") {
                BvhJoint joint;
                in >> joint.name;
                joint.parent = open.empty() ? -1 : open.back();
                joints.push_back(joint);
            } else if (word == "{") {
                open.push_back(static_cast<int>(joints.size()) - 1);
            } else if (word == "}") {
                open.pop_back();
            } else if (word == "OFFSET") {
                Vector3d& o = joints.back().offset;
                in >> o.x() >> o.y() >> o.z();
            } else if (word == "CHANNELS") {
                int count = 0;
                in >> count;
                joints.back().channels.resize(static_cast<std::size_t>(count));
                for (std::string& channel : joints.back().channels) {
                    in >> channel;
                }
            }
        }
        std::size_t count = 0;
        in >> word >> count >> word >> word >> step;
        std::size_t columns = 0;
        for (const BvhJoint& joint : joints) {
            columns += joint.channels.size();
        }
        frames.assign(count, std::vector<double>(columns));
        for (auto& frame : frames) {
            for (double& number : frame) {
                in >> number;
            }
        }
    }

    /// Where the joints of a frame are, by name; ends of bones by that of their joint and "+".
    [[nodiscard]] std::map<std::string, Vector3d> places(std::size_t frame) const {
        std::vector<Vector3d> at;
        std::vector<Matrix3d> turned;
        std::map<std::string, Vector3d> named;
        std::size_t column = 0;
        for (const BvhJoint& joint : joints) {
            const auto parent = static_cast<std::size_t>(joint.parent);
            Vector3d place = joint.parent < 0
                                 ? joint.offset
                                 : Vector3d(at[parent] + turned[parent] * joint.offset);
            Matrix3d turn = joint.parent < 0 ? Matrix3d::Identity() : turned[parent];
            for (const std::string& channel : joint.channels) {
                const double number = frames[frame][column++];
                const int axis = channel[0] - 'X';
                if (channel.ends_with("position")) {
                    place[axis] += number;
                } else {
                    turn = turn * Eigen::AngleAxisd(number * std::numbers::pi / 180.0,
                                                    Vector3d::Unit(axis))
                                      .toRotationMatrix();
                }
            }
            at.push_back(place);
            turned.push_back(turn);
            named[joint.name == "Site" ? joints[parent].name + "+" : joint.name] = place;
        }
        return named;
    }
};

} // namespace

/// The body in space as files of other programs, against the bones of the synthetic player.
class TestMotionFiles : public QObject {
    Q_OBJECT
  private slots:
    void initTestCase();
    void markersAreWhereTheBonesAre();
    void turningJointsGoWhereTheBonesGo();
    void whatCannotBeWrittenIsRefused();

  private:
    synth::FilmScene scene_{support::rightHander().spec};
    model::Metres height_{scene_.spec().player.build.heightM};
    std::optional<body::FittedBody> body_;
};

void TestMotionFiles::initTestCase() {
    body::FittedParts parts = support::trueBody(scene_, 0.02).parts();
    const synth::Pose pose = scene_.motion().pose(scene_.firstTime());
    const auto length = [&](const Vector3d& way) { return way.norm() / height_.value; };
    const auto middle = [&](Landmark left) {
        return Vector3d(0.5 * (pose.at(left) + pose.at(model::mirrored(left))));
    };
    const auto set = [&](body::Part part, double share) {
        parts.lengths[static_cast<std::size_t>(part)] = share;
    };
    for (const body::Bone& bone : body::bones()) {
        set(bone.part, length(pose.at(bone.to) - pose.at(bone.from)));
    }
    const Vector3d neck = middle(Landmark::leftShoulder);
    set(body::Part::trunk, length(neck - middle(Landmark::leftHip)));
    set(body::Part::neck, length(pose.at(Landmark::head) - neck));
    body_.emplace(parts);
}

/// Distances do not hang on axes, so they are compared.
void TestMotionFiles::markersAreWhereTheBonesAre() {
    std::stringstream file;
    body::writeTrc(file, *body_, height_);
    std::string line;
    std::vector<std::string> markers;
    for (int i = 0; std::getline(file, line) && i < 5; ++i) {
        if (i == 2) {
            QVERIFY2(line.find("\tm\t") != std::string::npos, line.c_str());
        }
        if (i == 3) {
            std::istringstream cells(line);
            for (std::string cell; cells >> cell;) {
                markers.push_back(cell);
            }
        }
    }
    QCOMPARE(markers.size(), std::size_t{22}); // Frame#, Time, landmarks of the body
    std::size_t rows = 0;
    double lowest = 1.0;
    while (std::getline(file, line)) {
        std::istringstream cells(line);
        int number = 0;
        double time = 0.0;
        if (!(cells >> number >> time)) {
            continue;
        }
        ++rows;
        std::map<std::string, Vector3d> at;
        for (std::size_t m = 2; m < markers.size(); ++m) {
            Vector3d& place = at[markers[m]];
            QVERIFY(cells >> place.x() >> place.y() >> place.z());
            lowest = std::min(lowest, place.y());
        }
        const auto far = [&](Landmark a, Landmark b) {
            return (at.at(std::string(name(a))) - at.at(std::string(name(b)))).norm();
        };
        const synth::Pose pose = scene_.motion().pose(scene_.firstTime() + time);
        for (const auto& [a, b] : {std::pair{Landmark::leftHip, Landmark::leftKnee},
                                   std::pair{Landmark::rightWrist, Landmark::leftAnkle},
                                   std::pair{Landmark::headTop, Landmark::rightToe}}) {
            const double truth = (pose.at(a) - pose.at(b)).norm();
            QVERIFY2(std::abs(far(a, b) - truth) < 0.015,
                     qPrintable(QString("%1 s: %2, truly %3").arg(time).arg(far(a, b)).arg(truth)));
        }
        const double up = at.at("head_top").y() - at.at("left_ankle").y();
        QVERIFY(std::abs(up - (pose.at(Landmark::headTop).z() - pose.at(Landmark::leftAnkle).z())) <
                0.015);
    }
    QCOMPARE(rows, body_->times().size());
    QVERIFY2(std::abs(lowest) < 0.08, qPrintable(QString::number(lowest))); // feet on the ground
}

void TestMotionFiles::turningJointsGoWhereTheBonesGo() {
    std::stringstream file;
    body::writeBvh(file, *body_, height_);
    const Bvh bvh(file);
    QCOMPARE(bvh.frames.size(), body_->times().size());
    const double first = body_->times().front().value;
    constexpr double centimetre = 0.01;
    constexpr double wander =
        0.035; // of standing height: joint centres, and shoulders on the trunk
    for (std::size_t f = 0; f < bvh.frames.size(); f += 5) {
        const auto at = bvh.places(f);
        const synth::Pose pose =
            scene_.motion().pose(scene_.firstTime() + first + bvh.step * static_cast<double>(f));
        const auto far = [&](const char* a, const char* b) {
            return centimetre * (at.at(a) - at.at(b)).norm();
        };
        struct Compared {
            const char* a;
            const char* b;
            Landmark from;
            Landmark to;
        };
        for (const Compared& c :
             {Compared{"LeftLeg", "RightLeg", Landmark::leftKnee, Landmark::rightKnee},
              Compared{"LeftFoot", "RightHand", Landmark::leftAnkle, Landmark::rightWrist},
              Compared{"LeftHand", "RightFoot+", Landmark::leftWrist, Landmark::rightToe},
              Compared{"Head+", "RightForeArm", Landmark::headTop, Landmark::rightElbow},
              Compared{"LeftHand+", "Hips", Landmark::leftHand, Landmark::leftHip}}) {
            const Vector3d to =
                std::string_view(c.b) == "Hips"
                    ? Vector3d(0.5 * (pose.at(Landmark::leftHip) + pose.at(Landmark::rightHip)))
                    : Vector3d(pose.at(c.to));
            const double truth = (pose.at(c.from) - to).norm();
            QVERIFY2(std::abs(far(c.a, c.b) - truth) < wander * height_.value,
                     qPrintable(QString("frame %1, %2 to %3: %4, truly %5")
                                    .arg(f)
                                    .arg(c.a, c.b)
                                    .arg(far(c.a, c.b))
                                    .arg(truth)));
        }
    }
}

void TestMotionFiles::whatCannotBeWrittenIsRefused() {
    QTemporaryDir folder;
    const std::filesystem::path file = folder.filePath("body.bvh").toStdString();
    QVERIFY_EXCEPTION_THROWN(body::writeMotionFile(file, *body_, std::nullopt), model::InputError);
    QVERIFY_EXCEPTION_THROWN(
        body::writeMotionFile(folder.filePath("no/such.trc").toStdString(), *body_, height_),
        model::InputError);
    body::FittedParts few = body_->parts();
    few.times = {few.times[0], model::Seconds(few.times[0].value + 0.5)};
    few.places.resize(2 * 60);
    for (auto& draw : few.draws) {
        draw.resize(2 * 60);
    }
    QVERIFY_EXCEPTION_THROWN(body::writeMotionFile(file, body::FittedBody(few), height_),
                             model::InputError);
    QVERIFY(!std::filesystem::exists(file));
    body::writeMotionFile(file, *body_, height_);
    std::ifstream written(file);
    QCOMPARE(Bvh(written).frames.size(), body_->times().size());
}

QTEST_APPLESS_MAIN(TestMotionFiles)
#include "test_motion_files.moc"
