#pragma once

#include <cstddef>
#include <vector>

/// Weights of which most are zero, stored by their places.
namespace kestrel::pose {

/// One level of the storage tree: all places of a dimension, or a list of those in use.
struct SparseLevel {
    bool dense = true;
    std::size_t size = 0; ///< of a dense level
    std::vector<std::size_t>
        segments; ///< of a sparse one: where each parent's list begins, and an end
    std::vector<std::size_t> positions; ///< of a sparse one: the places in use
};

/// A sparse tensor as TensorFlow Lite keeps it: the tensor's own dimensions come first in
/// `order` (0 … rank−1), dimensions of blocks after them; `blockOf` says which dimension each block
/// dimension cuts.
struct SparsePlan {
    std::vector<std::size_t> order;
    std::vector<std::size_t> blockOf;
    std::vector<SparseLevel> levels; ///< in storage order, as `order`
};

/// Writes the stored `values` to their places in a dense tensor of `shape`; zeros elsewhere.
/// Nothing (empty) when the plan does not fit the shape or the values, whatever it holds.
std::vector<float> dense(const SparsePlan& plan, const std::vector<std::size_t>& shape,
                         const std::vector<float>& values);

} // namespace kestrel::pose
