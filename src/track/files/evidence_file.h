#pragma once

#include "track/person/evidence.h"

#include <cstdint>
#include <optional>
#include <span>
#include <vector>

namespace kestrel::track {

/// Evidence as CBOR (RFC 8949), to be kept beside a film: looking again takes a minute, reading it
/// back a moment. Positions are rounded to a hundredth of a pixel.
std::vector<std::uint8_t> toBytes(const Evidence& evidence);

/// Reads evidence back; nothing when the bytes are not evidence as toBytes() writes it.
std::optional<Evidence> evidenceFromBytes(std::span<const std::uint8_t> bytes);

} // namespace kestrel::track
