#pragma once

#include "body/fitted_body.h"

#include <cstdint>
#include <optional>
#include <span>
#include <vector>

namespace kestrel::body {

/// A fitted body as bytes to keep (CBOR): some 8 kB for each instant.
std::vector<std::uint8_t> toBytes(const FittedBody& body);

/// The body that was kept; nothing when the bytes are of another kind, of another version or
/// damaged.
std::optional<FittedBody> bodyFromBytes(std::span<const std::uint8_t> bytes);

} // namespace kestrel::body
