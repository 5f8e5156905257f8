#pragma once

#include "words/language.h"

#include <QGuiApplication>

#include <array>
#include <memory>
#include <string>

namespace kestrel::cli {

/// Qt's one application: words for all commands; without a display, but with pictures and PDF, for
/// those that ask.
class QtApplication {
  public:
    QtApplication() { make<QCoreApplication>(); }

    /// For commands that write sheets, before anything is painted.
    void usePictures() {
        qputenv("QT_QPA_PLATFORM", "offscreen");
        make<QGuiApplication>();
    }

  private:
    template <class Application> void make() {
        application_.reset(); // there can be one only
        application_ = std::make_unique<Application>(count_, words_.data());
        QCoreApplication::setApplicationVersion(KESTREL_VERSION);
        words::applyLanguage(*application_);
    }

    int count_ = 1;
    std::string program_ = "jolly-kestrel-cli";
    std::array<char*, 2> words_{program_.data(), nullptr};
    std::unique_ptr<QCoreApplication> application_;
};

} // namespace kestrel::cli
