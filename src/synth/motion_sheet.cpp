#include "synth/motion_sheet.h"

#include "technique/pack/json_file.h"
#include "technique/pack/pack_directory.h"

#include <algorithm>
#include <stdexcept>

namespace kestrel::synth {
namespace {

namespace fs = std::filesystem;
using nlohmann::json;

fs::path folder() {
    return technique::packDirectory() / "motions";
}

/// A member that may be left out.
const json& part(const json& object, const char* name) {
    static const json none;
    const auto found = object.find(name);
    return found == object.end() ? none : *found;
}

class SheetReader {
  private:
    [[noreturn]] void fault(const std::string& place, model::Message reason) const {
        throw technique::dataError(file_, place, std::move(reason));
    }

    template <class Work> auto understood(const std::string& place, const Work& work) const {
        try {
            return work();
        } catch (const std::invalid_argument& e) {
            fault(place, model::asItIs(e.what()));
        } catch (const json::exception& e) {
            fault(place, model::asItIs(e.what()));
        }
    }

  public:
    SheetReader(fs::path file, const json& sheet) : file_(std::move(file)), json_(sheet) {}

    MotionSheet read() {
        heading();
        channels(json_.at("channels"), "/channels", sheet_.channels);
        ball();
        for (const json& flight : part(json_, "flights")) {
            for (const json& key : flight) {
                checkKey("/flights", key);
            }
            sheet_.flights.emplace_back(flight.at(0), flight.at(1));
        }
        for (const json& event : json_.at("events")) {
            const std::string id = event.at("id");
            sheet_.events.push_back({id, understood("/events/" + id, [&] {
                                         return eventRuleFrom(event, sheet_.leadIsOffSide);
                                     })});
            if (event.value("position", false)) {
                sheet_.positions.push_back(id);
            }
        }
        for (const auto& [id, quantity] : json_.at("quantities").items()) {
            sheet_.quantities[id] = {quantity.at("name"), quantity.value("unit", "deg"),
                                     understood("/quantities/" + id, [&, &q = quantity] {
                                         return readingFrom(q, sheet_.leadIsOffSide);
                                     })};
        }
        dials();
        variants();
        return std::move(sheet_);
    }

  private:
    void heading() {
        sheet_.technique = json_.at("technique");
        sheet_.title = json_.at("title");
        sheet_.place = json_.at("place");
        sheet_.implementName = json_.value("implement", "none");
        sheet_.anchor = json_.at("anchor");
        sheet_.leadIsOffSide = json_.at("lead") == "off";
        sheet_.wearsGlove = json_.value("glove", false);
        static const std::map<std::string, ArmLed> arms{{"angles", ArmLed::byAngles},
                                                        {"hand", ArmLed::byHand},
                                                        {"implement", ArmLed::onImplement}};
        sheet_.mainArm = arms.at(json_.at("main_arm"));
        sheet_.offArm = arms.at(json_.at("off_arm"));
        static const std::map<std::string, ImplementLed> implements{
            {"main_hand", ImplementLed::byMainHand},
            {"trunk_point", ImplementLed::byTrunkPoint},
            {"head_point", ImplementLed::byHeadPoint}};
        sheet_.implementLed = implements.at(json_.value("implement_led_by", "main_hand"));
        double before = -1e9;
        for (const json& key : json_.at("keys")) {
            const std::string id = key.at(0);
            const double time = key.at(1);
            if (time <= before) {
                fault("/keys", model::message("motion.time_order", id));
            }
            before = time;
            keyOrder_.push_back(id);
            sheet_.keys[id] = time;
        }
    }

    void checkChannel(const std::string& place, const std::string& channel) const {
        const auto& known = channelNames();
        if (std::find(known.begin(), known.end(), channel) == known.end()) {
            fault(place, model::message("motion.no_channel", channel));
        }
    }

    /// A row of values in the order of the keys (null: no key there), a map from key to value, or
    /// one number for all times.
    void channels(const json& from, const std::string& place,
                  std::map<std::string, std::map<std::string, double>>& into) const {
        for (const auto& [channel, values] : from.items()) {
            const std::string here = place + "/" + channel;
            checkChannel(here, channel);
            if (values.is_number()) {
                into[channel][keyOrder_.front()] = values;
            } else if (values.is_object()) {
                for (const auto& [key, value] : values.items()) {
                    checkKey(here, key);
                    into[channel][key] = value;
                }
            } else {
                if (values.size() != keyOrder_.size()) {
                    fault(here, model::message("motion.values_for_keys", values.size(),
                                               keyOrder_.size()));
                }
                for (std::size_t i = 0; i < values.size(); ++i) {
                    if (!values[i].is_null()) {
                        into[channel][keyOrder_[i]] = values[i];
                    }
                }
            }
        }
    }

    void checkKey(const std::string& place, const std::string& key) const {
        if (!sheet_.keys.contains(key)) {
            fault(place, model::message("motion.no_key", key));
        }
    }

    void ball() {
        if (!json_.contains("ball")) {
            return;
        }
        sheet_.ballName = json_.at("ball").at("kind");
        sheet_.ball = ballPhases(json_.at("ball").at("phases"), "/ball/phases");
    }

    [[nodiscard]] std::vector<BallPhase> ballPhases(const json& list,
                                                    const std::string& place) const {
        static const std::map<std::string, BallPhase::Kind> kinds{
            {"held", BallPhase::Kind::held},
            {"pass", BallPhase::Kind::pass},
            {"reach", BallPhase::Kind::reach},
            {"arrive", BallPhase::Kind::arrive},
            {"leave", BallPhase::Kind::leave}};
        std::vector<BallPhase> phases;
        for (const json& from : list) {
            BallPhase phase;
            phase.kind = kinds.at(from.at("is"));
            phase.place = from.value("place", "");
            phase.until = from.value("until", "");
            if (!phase.until.empty()) {
                checkKey(place, phase.until);
            }
            phase.speed = from.value("speed", 0.0);
            phase.azimuth = from.value("azimuth", 0.0);
            phase.elevation = from.value("elevation", 0.0);
            phase.lasts = from.value("lasts", 0.0);
            phase.floor = from.value("floor", 0.0);
            phase.bounce = from.value("bounce", 0.0);
            phases.push_back(phase);
        }
        return phases;
    }

    void dials() {
        for (const auto& [id, from] : json_.at("dials").items()) {
            const std::string here = "/dials/" + id;
            Dial dial;
            dial.name = from.at("name");
            dial.quantity = from.at("quantity");
            if (!sheet_.quantities.contains(dial.quantity)) {
                fault(here, model::message("motion.no_quantity", dial.quantity));
            }
            dial.direction = from.value("direction", 1.0);
            dial.most = from.at("most");
            dial.beginner = from.value("beginner", 0.0);
            for (const auto& [channel, keys] : part(from, "adds").items()) {
                checkChannel(here, channel);
                for (const auto& [key, by] : keys.items()) {
                    checkKey(here, key);
                    dial.adds.push_back({channel, key, by});
                }
            }
            for (const auto& [prefix, keys] : part(from, "shifts").items()) {
                for (const auto& [key, by] : keys.items()) {
                    checkKey(here, key);
                    dial.shifts.push_back({prefix, key, by});
                }
            }
            for (const json& quantity : part(from, "also_moves")) {
                dial.alsoMoves.push_back(quantity);
            }
            sheet_.dials[id] = std::move(dial);
        }
    }

    void variants() {
        for (const auto& [id, from] : part(json_, "variants").items()) {
            MotionSheet::Variant variant;
            variant.name = from.at("name");
            for (const auto& [key, time] : part(from, "keys").items()) {
                checkKey("/variants/" + id, key);
                variant.keys[key] = time;
            }
            channels(part(from, "channels"), "/variants/" + id, variant.channels);
            variant.ball = ballPhases(part(from, "ball"), "/variants/" + id + "/ball");
            sheet_.variants[id] = std::move(variant);
        }
    }

    fs::path file_;
    const json& json_;
    MotionSheet sheet_;
    std::vector<std::string> keyOrder_;
};

} // namespace

const std::vector<std::string>& channelNames() {
    static const std::vector<std::string> names = [] {
        std::vector<std::string> all{
            "pelvis_x",   "pelvis_y",   "pelvis_z",       "pelvis_heading", "pelvis_tilt",
            "trunk_lean", "trunk_side", "thorax_heading", "shoulder_tilt",  "head_heading",
            "head_pitch", "grip_out",   "grip_front",     "grip_up",        "tool_x",
            "tool_y",     "tool_z",     "shaft_x",        "shaft_y",        "shaft_z",
            "face_x",     "face_y",     "face_z",         "shaft_bend",     "palm_out",
            "palm_front", "palm_up"};
        for (const char* side : {"main_", "off_"}) {
            for (const char* part : {"foot_x", "foot_y", "foot_z", "foot_heading", "foot_pitch",
                                     "knee_turn", "raise", "forward", "turn", "bend", "hand_out",
                                     "hand_front", "hand_up", "elbow", "grip"}) {
                all.push_back(std::string(side) + part);
            }
        }
        return all;
    }();
    return names;
}

std::filesystem::path motionSheetFile(const std::string& technique) {
    return folder() / (technique + ".json");
}

MotionSheet loadMotionSheet(const std::string& technique) {
    const fs::path file = motionSheetFile(technique);
    const json sheet =
        technique::readChecked(file, technique::packDirectory() / "schema" / "motion.schema.json");
    return SheetReader(file, sheet).read();
}

std::vector<std::string> techniquesWithMotion() {
    std::vector<std::string> names;
    for (const auto& entry : fs::directory_iterator(folder())) {
        if (entry.path().extension() == ".json") {
            names.push_back(entry.path().stem());
        }
    }
    std::sort(names.begin(), names.end());
    return names;
}

} // namespace kestrel::synth
