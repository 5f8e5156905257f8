#pragma once

#include "model/reading.h"
#include "report/palette.h"
#include "words/words.h"

#include <QString>

namespace kestrel::app {

/// The verdict's own sign and its word: "▲ outside".
inline QString verdictText(model::Verdict verdict) {
    return QString::fromUtf8(report::verdictSign(verdict)) + " " + words::verdictText(verdict);
}

} // namespace kestrel::app
