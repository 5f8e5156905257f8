#pragma once

namespace kestrel::report {

/// Makes the font that ships with the program known to Qt. Once, after the application object.
void loadFonts();

/// Its family name.
inline constexpr const char* fontFamily = "B612";

} // namespace kestrel::report
