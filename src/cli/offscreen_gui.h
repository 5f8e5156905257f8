#pragma once

#include "report/fonts.h"

#include <QGuiApplication>

#include <array>
#include <string>

namespace kestrel::cli {

/// Qt's fonts and PDF without a display, for the commands that write sheets; one at a time.
class OffscreenGui {
  public:
    OffscreenGui() {
        QCoreApplication::setApplicationVersion(KESTREL_VERSION);
        report::loadFonts();
    }

  private:
    bool platform_ = qputenv("QT_QPA_PLATFORM", "offscreen"); ///< set before gui_ is made
    int count_ = 1;
    std::string program_ = "jolly-kestrel-cli";
    std::array<char*, 2> words_{program_.data(), nullptr};
    QGuiApplication gui_{count_, words_.data()};
};

} // namespace kestrel::cli
