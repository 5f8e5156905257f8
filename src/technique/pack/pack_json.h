#pragma once

#include "technique/pack/pack.h"

#include <nlohmann/json.hpp>

namespace kestrel::technique {

/// Turns pack JSON that already fits its schema into a Pack. Throws model::InputError (dataError)
/// for what a schema cannot say: an unknown measure kind, a point expression that cannot be read.
Pack packFromJson(const nlohmann::json& json, const std::filesystem::path& file);

} // namespace kestrel::technique
