#pragma once

#include "model/reading.h"
#include "report/palette.h"
#include "technique/judge/reading_text.h"

#include <QString>

namespace kestrel::app {

/// The verdict's own sign and its word: "▲ outside".
inline QString verdictText(model::Verdict verdict) {
    return QString::fromUtf8(report::verdictSign(verdict)) + " " +
           QString::fromStdString(technique::verdictText(verdict));
}

} // namespace kestrel::app
