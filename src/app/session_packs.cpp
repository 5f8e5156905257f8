#include "app/session.h"
#include "app/session_open.h"
#include "model/input_error.h"
#include "technique/json_file.h"

#include <QSaveFile>

#include <algorithm>

/// Packs of the coach's own, editions of packs, and the schools a rep is judged by.
namespace kestrel::app {
namespace {

template <class Packs> auto packWithId(Packs& packs, const std::string& id) {
    return std::find_if(packs.begin(), packs.end(),
                        [&](const technique::Pack& pack) { return pack.id == id; });
}

QString text(const std::string& s) {
    return QString::fromStdString(s);
}

} // namespace

std::filesystem::path Session::ownPackFile(const std::string& id) const {
    return library_.packFolder() / (id + ".json");
}

std::filesystem::path Session::ownDrillFile() const {
    return library_.drillFile();
}

std::string Session::ownDrills() const {
    const std::filesystem::path file = ownDrillFile();
    return std::filesystem::exists(file) ? technique::readText(file)
                                         : "{\n  \"format\": 1,\n  \"drills\": []\n}\n";
}

coaching::DrillLibrary Session::drillsWith(const std::string& ownText) const {
    coaching::DrillLibrary all = shippedDrills_;
    coaching::addDrills(
        all, coaching::drillsFromText(ownText, ownDrillFile(), coaching::drillSchema(packFolder_)),
        ownDrillFile());
    return all;
}

void Session::loadPacks() {
    packs_ = shipped_;
    drills_ = shippedDrills_;
    trying([&] { drills_ = drillsWith(ownDrills()); });
    loadRule_ = coaching::exampleLoadRule(packFolder_);
    trying([&] {
        loadRule_ = coaching::loadRuleFromText(loadRuleText(), library_.loadRuleFile(),
                                               coaching::loadRuleSchema(packFolder_));
    });
    const std::filesystem::path folder = library_.packFolder();
    std::error_code ignored;
    for (const auto& entry : std::filesystem::directory_iterator(folder, ignored)) {
        if (entry.path().extension() != ".json") {
            continue;
        }
        // A pack that was spoilt outside of the program must not keep the library from opening.
        trying([&] {
            technique::Pack own =
                technique::loadPack(entry.path(), technique::packSchema(packFolder_));
            coaching::checkDrills(own, drills_);
            const auto same = packWithId(packs_, own.id);
            same == packs_.end() ? packs_.push_back(std::move(own)) : void(*same = std::move(own));
        });
    }
}

const technique::Pack& Session::editionOf(const std::string& text) const {
    auto known = editions_.find(text);
    if (known == editions_.end()) {
        known = editions_
                    .emplace(text, std::make_unique<const technique::Pack>(technique::packFromText(
                                       text, "kept edition", technique::packSchema(packFolder_))))
                    .first;
    }
    return *known->second;
}

const technique::Pack& Session::packOf(const model::Rep& rep) const {
    if (const std::string kept = library_.edition(rep.packEdition); !kept.empty()) {
        try {
            if (const technique::Pack& edition = editionOf(kept); edition.id == rep.techniqueId) {
                return edition;
            }
        } catch (const model::InputError&) {
            // Written for a program that read packs otherwise: the newest edition judges it.
        }
    }
    const auto found = packWithId(packs_, rep.techniqueId);
    return editionOf(found == packs_.end() ? packs_.front().text : found->text);
}

void Session::keepEdition() {
    if (open_->rep.packEdition != 0 || open_->rep.positions.empty() ||
        open_->rep.techniqueId != open_->pack->id) {
        return;
    }
    open_->rep.packEdition = library_.keepEdition(open_->pack->id, open_->pack->text);
    library_.setEdition(open_->rep.id, open_->rep.packEdition);
    const auto same = std::find_if(open_->reps.begin(), open_->reps.end(),
                                   [&](const model::Rep& r) { return r.id == open_->rep.id; });
    same->packEdition = open_->rep.packEdition;
}

const std::vector<coaching::Change>& Session::changes() const {
    return open_->changes;
}

bool Session::newerEdition() const {
    const auto newest = packWithId(packs_, open_->rep.techniqueId);
    return newest != packs_.end() && newest->text != open_->pack->text;
}

std::vector<coaching::Change> Session::changesOfNewerEdition() const {
    const auto newest = packWithId(packs_, open_->rep.techniqueId);
    const auto review = newest == packs_.end() ? std::nullopt : judgedWith(*newest);
    return review ? coaching::changesBetween(open_->review, *review)
                  : std::vector<coaching::Change>();
}

const technique::Pack* Session::shippedPack(const std::string& id) const {
    const auto found = packWithId(shipped_, id);
    return found == shipped_.end() ? nullptr : &*found;
}

bool Session::isOwnPack(const std::string& id) const {
    return std::filesystem::exists(ownPackFile(id));
}

technique::Pack Session::checkedPack(const std::string& text) const {
    technique::Pack pack =
        technique::packFromText(text, "pack", technique::packSchema(packFolder_));
    pack.file = ownPackFile(pack.id);
    coaching::checkDrills(pack, drills_);
    return pack;
}

std::optional<coaching::Review> Session::judgedWith(const technique::Pack& pack) const {
    if (!open_ || open_->rep.techniqueId != pack.id) {
        return std::nullopt;
    }
    technique::Circumstances circumstances = open_->circumstances;
    circumstances.schools = technique::nearestChoice(
        pack, {open_->rep.schools, open_->clip.schools, open_->player.schools});
    return coaching::reviewOf(pack, open_->rep, circumstances);
}

void Session::setSchool(const technique::SchoolQuestion& question, const std::string& option,
                        ForWhom forWhom) {
    const auto chosen = [&](std::set<std::string> schools, bool add) {
        for (const technique::SchoolOption& o : question.options) {
            schools.erase(o.id);
        }
        if (add) {
            schools.insert(option);
        }
        return schools;
    };
    struct State {
        model::Player player;
        std::vector<model::Clip> clips;
        std::vector<model::Rep> reps;
    };
    State before;
    before.player = player();
    for (const model::Clip& c : library_.clips(before.player.id)) {
        const bool ofVisit = c.id == clip().id || c.filmed == clip().filmed;
        if (forWhom == ForWhom::player || (forWhom == ForWhom::visit && ofVisit)) {
            before.clips.push_back(c);
            const auto reps = library_.reps(c.id);
            before.reps.insert(before.reps.end(), reps.begin(), reps.end());
        }
    }
    if (forWhom == ForWhom::rep) {
        before.reps.push_back(rep());
    }
    State after = before;
    if (forWhom == ForWhom::player) {
        after.player.schools = chosen(before.player.schools, true);
    }
    for (model::Clip& c : after.clips) {
        c.schools = chosen(c.schools, forWhom == ForWhom::visit);
    }
    for (model::Rep& r : after.reps) {
        r.schools = chosen(r.schools, forWhom == ForWhom::rep);
    }
    const auto put = [this](const State& state) {
        library_.atomically([&] {
            library_.save(state.player);
            for (const model::Clip& c : state.clips) {
                library_.save(c);
            }
            for (const model::Rep& r : state.reps) {
                library_.setSchools(r.id, r.schools);
            }
        });
    };
    edit(
        tr("Judge by “%1”").arg(text(technique::findSchool(*open_->pack, option)->name)),
        [put, after] { put(after); }, [put, before] { put(before); });
}

void Session::takeNewerEdition() {
    const auto newest = packWithId(packs_, open_->rep.techniqueId);
    if (newest == packs_.end()) {
        return;
    }
    const model::Id repId = open_->rep.id;
    const model::Id before = open_->rep.packEdition;
    const model::Id after = library_.keepEdition(newest->id, newest->text);
    edit(
        tr("Judge by the newest pack"), [this, repId, after] { library_.setEdition(repId, after); },
        [this, repId, before] { library_.setEdition(repId, before); });
}

void Session::putOwnFile(const std::filesystem::path& file,
                         const std::optional<std::string>& content) {
    namespace fs = std::filesystem;
    if (!content) {
        fs::remove(file);
    } else {
        fs::create_directories(file.parent_path());
        fs::permissions(file.parent_path(), fs::perms::owner_all);
        QSaveFile out(QString::fromStdString(file.string())); // whole, or as it was
        if (!out.open(QIODevice::WriteOnly) ||
            out.write(content->data(), static_cast<qint64>(content->size())) < 0 || !out.commit()) {
            throw model::InputError("“" + file.string() + "” cannot be written.",
                                    "It is as it was before.",
                                    "Free some space, or check the folder's permissions.");
        }
    }
    loadPacks();
    emit packsChanged();
}

void Session::setOwnDrills(const std::string& text, const QString& what) {
    const coaching::DrillLibrary all = drillsWith(text);
    for (const technique::Pack& pack : packs_) {
        coaching::checkDrills(pack, all);
    }
    const std::string before = ownDrills();
    edit(
        what, [this, text] { putOwnFile(ownDrillFile(), text); },
        [this, before] { putOwnFile(ownDrillFile(), before); });
}

bool Session::hasOwnLoadRule() const {
    return std::filesystem::exists(library_.loadRuleFile());
}

std::string Session::loadRuleText() const {
    return technique::readText(hasOwnLoadRule() ? library_.loadRuleFile()
                                                : coaching::exampleLoadRuleFile(packFolder_));
}

void Session::setLoadRule(const std::optional<std::string>& text, const QString& what) {
    if (text) {
        (void)coaching::loadRuleFromText(*text, library_.loadRuleFile(),
                                         coaching::loadRuleSchema(packFolder_));
    }
    const std::optional<std::string> before =
        hasOwnLoadRule() ? std::optional(loadRuleText()) : std::nullopt;
    const auto put = [this](const std::optional<std::string>& content) {
        putOwnFile(library_.loadRuleFile(), content);
    };
    edit(
        what, [put, text] { put(text); }, [put, before] { put(before); });
}

void Session::setOwnPack(const std::string& text, const QString& what) {
    const technique::Pack pack = checkedPack(text);
    const std::filesystem::path file = ownPackFile(pack.id);
    const std::optional<std::string> before =
        std::filesystem::exists(file) ? std::optional(technique::readText(file)) : std::nullopt;
    const auto put = [this, file](const std::optional<std::string>& content) {
        putOwnFile(file, content);
    };
    edit(
        what, [put, text] { put(text); }, [put, before] { put(before); });
}

void Session::removeOwnPack(const std::string& id, const QString& what) {
    const std::filesystem::path file = ownPackFile(id);
    if (!std::filesystem::exists(file)) {
        return;
    }
    const std::string before = technique::readText(file);
    edit(
        what, [this, file] { putOwnFile(file, std::nullopt); },
        [this, file, before] { putOwnFile(file, before); });
}

} // namespace kestrel::app
