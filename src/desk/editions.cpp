#include "desk/editions.h"

namespace kestrel::desk {

bool newerEdition(const OpenClip& open, const Shelf& shelf) {
    const technique::Pack* newest = shelf.newest(open.rep().techniqueId);
    return newest != nullptr && newest->text != open.pack().text;
}

std::vector<coaching::Change> changesOfNewerEdition(const OpenClip& open, const Shelf& shelf) {
    const technique::Pack* newest = shelf.newest(open.rep().techniqueId);
    const auto review = newest == nullptr ? std::nullopt : judgedWith(open, *newest);
    return review ? coaching::changesBetween(open.review(), *review)
                  : std::vector<coaching::Change>();
}

std::optional<coaching::Review> judgedWith(const OpenClip& open, const technique::Pack& pack) {
    if (!open.hasClip() || open.rep().techniqueId != pack.id) {
        return std::nullopt;
    }
    technique::Circumstances circumstances = open.circumstances();
    circumstances.schools = technique::nearestChoice(
        pack, {open.rep().schools, open.clip().schools, open.player().schools});
    return coaching::reviewOf(pack, open.rep(), circumstances);
}

} // namespace kestrel::desk
