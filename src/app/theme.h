#pragma once

class QApplication;

namespace kestrel::app {

/// Loads the font that ships with the program and sets colours and shapes of all controls; the
/// font's size follows the desktop's.
void applyTheme(QApplication& application);

} // namespace kestrel::app
