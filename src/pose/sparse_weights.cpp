#include "pose/sparse_weights.h"

#include <algorithm>

namespace kestrel::pose {
namespace {

/// Walks the storage tree level by level; one call a stored value.
class Expansion {
  public:
    Expansion(const SparsePlan& plan, const std::vector<std::size_t>& shape,
              const std::vector<float>& values)
        : plan_(plan), shape_(shape), values_(values), place_(plan.order.size()) {}

    bool run(std::vector<float>& target) {
        return descend(0, 0, target) && used_ == values_.size();
    }

    /// Block sizes for each of the tensor's dimensions; false when a block does not divide it.
    bool measureBlocks() {
        block_.assign(shape_.size(), 1);
        for (std::size_t level = 0; level < plan_.levels.size(); ++level) {
            const std::size_t dimension = plan_.order[level];
            if (dimension < shape_.size()) {
                continue;
            }
            const SparseLevel& inBlock = plan_.levels[level];
            const std::size_t cut = plan_.blockOf[dimension - shape_.size()];
            if (!inBlock.dense || inBlock.size == 0 || shape_[cut] % inBlock.size != 0) {
                return false;
            }
            block_[cut] = inBlock.size;
        }
        return std::all_of(plan_.levels.begin(), plan_.levels.end(), [&](const SparseLevel& level) {
            const std::size_t dimension =
                plan_.order[static_cast<std::size_t>(&level - plan_.levels.data())];
            return dimension >= shape_.size() || !level.dense ||
                   level.size == shape_[dimension] / block_[dimension];
        });
    }

  private:
    bool descend(std::size_t level, std::size_t parent, std::vector<float>& target) {
        if (level == plan_.levels.size()) {
            return put(target);
        }
        const SparseLevel& here = plan_.levels[level];
        if (here.dense) {
            for (std::size_t i = 0; i < here.size; ++i) {
                place_[plan_.order[level]] = i;
                if (!descend(level + 1, parent * here.size + i, target)) {
                    return false;
                }
            }
            return true;
        }
        if (parent + 1 >= here.segments.size() ||
            here.segments[parent + 1] > here.positions.size()) {
            return false;
        }
        for (std::size_t i = here.segments[parent]; i < here.segments[parent + 1]; ++i) {
            place_[plan_.order[level]] = here.positions[i];
            if (!descend(level + 1, i, target)) {
                return false;
            }
        }
        return true;
    }

    bool put(std::vector<float>& target) {
        if (used_ == values_.size()) {
            return false;
        }
        std::size_t index = 0;
        for (std::size_t dimension = 0; dimension < shape_.size(); ++dimension) {
            std::size_t at = place_[dimension] * block_[dimension];
            for (std::size_t b = 0; b < plan_.blockOf.size(); ++b) {
                if (plan_.blockOf[b] == dimension) {
                    at += place_[shape_.size() + b];
                }
            }
            if (at >= shape_[dimension]) {
                return false;
            }
            index = index * shape_[dimension] + at;
        }
        target[index] = values_[used_++];
        return true;
    }

    const SparsePlan& plan_;
    const std::vector<std::size_t>& shape_;
    const std::vector<float>& values_;
    std::vector<std::size_t> place_; ///< by dimension: the tensor's own, then those of blocks
    std::vector<std::size_t> block_;
    std::size_t used_ = 0;
};

/// Lists that follow one another without gap or overlap, so that a walk ends.
bool isPartition(const SparseLevel& level) {
    return level.dense || (!level.segments.empty() && level.segments.front() == 0 &&
                           level.segments.back() == level.positions.size() &&
                           std::is_sorted(level.segments.begin(), level.segments.end()));
}

bool isPermutation(std::vector<std::size_t> order) {
    std::sort(order.begin(), order.end());
    for (std::size_t i = 0; i < order.size(); ++i) {
        if (order[i] != i) {
            return false;
        }
    }
    return true;
}

} // namespace

std::vector<float> dense(const SparsePlan& plan, const std::vector<std::size_t>& shape,
                         const std::vector<float>& values) {
    // Each block dimension cuts another one, as the format asks; so depth stays within 2 × rank.
    std::vector<std::size_t> cuts = plan.blockOf;
    std::sort(cuts.begin(), cuts.end());
    const bool sound =
        plan.levels.size() == shape.size() + plan.blockOf.size() &&
        plan.order.size() == plan.levels.size() && isPermutation(plan.order) &&
        std::all_of(plan.levels.begin(), plan.levels.end(), isPartition) &&
        std::adjacent_find(cuts.begin(), cuts.end()) == cuts.end() &&
        std::all_of(cuts.begin(), cuts.end(), [&](std::size_t d) { return d < shape.size(); });
    if (!sound) {
        return {};
    }
    std::size_t size = 1;
    for (const std::size_t side : shape) {
        size *= side;
    }
    std::vector<float> target(size, 0.0F);
    Expansion expansion(plan, shape, values);
    if (!expansion.measureBlocks() || !expansion.run(target)) {
        return {};
    }
    return target;
}

} // namespace kestrel::pose
