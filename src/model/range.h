#pragma once

#include <optional>

namespace kestrel::model {

/// A band of good values; an absent limit is open.
struct Range {
    std::optional<double> low;
    std::optional<double> high;

    friend bool operator==(const Range&, const Range&) = default;
};

} // namespace kestrel::model
