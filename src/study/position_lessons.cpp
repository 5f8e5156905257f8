#include "study/position_lessons.h"

#include "study/played_rep.h"
#include "synth/motion_sheet.h"
#include "technique/positions/pose_sequence.h"

#include <nlohmann/json.hpp>

#include <algorithm>
#include <fstream>
#include <optional>
#include <random>
#include <stdexcept>

namespace kestrel::study {
namespace {

std::optional<synth::FilmScene> sceneOf(const synth::PlayerSpec& player) {
    synth::FilmSpec film;
    film.player = player;
    film.width = 1920;
    film.height = 1080;
    try {
        return synth::FilmScene(film);
    } catch (const std::runtime_error&) {
        return std::nullopt; // such a player cannot do it
    }
}

/// Of any variant of the technique.
std::optional<synth::FilmScene> drawnScene(DrawnPlayer drawn, std::mt19937& random) {
    const auto& variants = synth::loadMotionSheet(drawn.plain.technique).variants;
    if (const std::size_t which = random() % (variants.size() + 1); which < variants.size()) {
        const auto variant = std::next(variants.begin(), static_cast<std::ptrdiff_t>(which));
        drawn.plain.variant = variant->first;
        if (drawn.turned) {
            drawn.turned->variant = variant->first;
        }
    }
    auto scene = drawn.turned ? sceneOf(*drawn.turned) : std::nullopt;
    return scene ? std::move(scene) : sceneOf(drawn.plain);
}

class Lessons {
  public:
    explicit Lessons(const std::filesystem::path& folder)
        : poses_(folder / "poses.f32", std::ios::binary), reps_(folder / "reps.jsonl") {}

    void add(const technique::Pack& pack, Habit habit, const PlayedRep& played) {
        const auto sequence = technique::poseSequence(pack, played.rep, played.circumstances);
        if (sequence.instants() == 0) {
            return;
        }
        nlohmann::json instants = nlohmann::json::object();
        for (const technique::Position& position : pack.positions) {
            if (const auto at = played.positions.find(position.id); at != played.positions.end()) {
                instants[position.id] =
                    (at->second - sequence.begin) / technique::PoseSequence::step;
            } else if (played.outside.contains(position.id)) {
                instants[position.id] = nullptr;
            }
        }
        reps_ << nlohmann::json{{"technique", pack.id},
                                {"habit", std::string(name(habit))},
                                {"first", written_},
                                {"columns", sequence.instants()},
                                {"positions", instants}}
              << '\n';
        poses_.write(reinterpret_cast<const char*>(sequence.rows.data()),
                     static_cast<std::streamsize>(sizeof(float)) * sequence.rows.size());
        written_ += sequence.instants();
        if (!reps_ || !poses_) {
            throw std::runtime_error("the lessons cannot be written");
        }
    }

  private:
    std::ofstream poses_;
    std::ofstream reps_;
    std::int64_t written_ = 0;
};

} // namespace

void writeLessons(const std::vector<technique::Pack>& packs, std::uint32_t seed, int players,
                  const std::filesystem::path& folder,
                  const std::function<void(int done, int all)>& tell) {
    std::filesystem::create_directories(folder);
    Lessons lessons(folder);
    constexpr std::array allAround{Around::side, Around::front, Around::rear, Around::between};
    for (int player = 0; player < players; ++player) {
        const std::uint32_t own = seed + static_cast<std::uint32_t>(player);
        std::mt19937 random(own);
        const DrawnPlayer drawn = drawPlayer(random);
        tell(player + 1, players);
        const auto pack = std::find_if(packs.begin(), packs.end(), [&](const technique::Pack& p) {
            return p.id == drawn.plain.technique;
        });
        auto scene = pack == packs.end() ? std::nullopt : drawnScene(drawn, random);
        if (!scene) {
            continue;
        }
        synth::FilmSpec film = scene->spec();
        for (const Habit habit : allHabits) {
            drawCamera(film, allAround[random() % allAround.size()], random);
            scene->refilm(film.camera, std::min(film.captureRate, mostRateLookedAt));
            lessons.add(*pack, habit, playedRep(*scene, own, habit));
        }
    }
}

} // namespace kestrel::study
