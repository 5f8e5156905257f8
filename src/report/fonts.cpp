#include "report/fonts.h"

#include <QFontDatabase>
#include <QString>

namespace kestrel::report {

void loadFonts() {
    for (const char* weight : {"Regular", "Bold", "Italic"}) {
        QFontDatabase::addApplicationFont(QStringLiteral(":/fonts/B612-%1.otf").arg(weight));
    }
}

} // namespace kestrel::report
