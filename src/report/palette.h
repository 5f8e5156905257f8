#pragma once

#include "model/construct.h"
#include "model/reading.h"

#include <QColor>

/// The program's colours, after the bird: slate blue-grey, warm chestnut, cream, near-black.
namespace kestrel::report {

inline constexpr QColor slate{0x4A, 0x5D, 0x70};
inline constexpr QColor chestnut{0x9C, 0x4A, 0x2A};
inline constexpr QColor cream{0xF7, 0xF1, 0xE4};
inline constexpr QColor nearBlack{0x1B, 0x1E, 0x22};

/// Colour of a construct's line by whose it is; made to stand on film.
QColor roleColour(model::Role role);

/// Colour of a verdict on paper or a light window. Always goes with the verdict's shape and word.
QColor verdictColour(model::Verdict verdict);

/// A sign of the verdict's own shape, readable without colour: ● ◆ ▲ ○ –.
const char* verdictSign(model::Verdict verdict);

} // namespace kestrel::report
