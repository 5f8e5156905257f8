#pragma once

#include <compare>
#include <cstdint>

/// Numbers by which the library knows what it keeps, each kind of a type of its own.
namespace kestrel::model {

struct Player;
struct Clip;
struct Rep;
struct PackEdition; ///< the text of a pack that reps are judged with, see records::Library

/// A row number in the library; 0 means not stored yet.
template <class Of> struct Id {
    std::int64_t value = 0;

    constexpr Id() = default;
    explicit constexpr Id(std::int64_t row) : value(row) {}
    [[nodiscard]] constexpr bool stored() const { return value != 0; }

    friend constexpr auto operator<=>(const Id&, const Id&) = default;
};

using PlayerId = Id<Player>;
using ClipId = Id<Clip>;
using RepId = Id<Rep>;
using EditionId = Id<PackEdition>;

} // namespace kestrel::model
