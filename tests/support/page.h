#pragma once

#include <QFile>
#include <QTest>

/// Pages of docs that a test makes on its way. They are for people: no test reads them.
namespace kestrel::support {

/// Whether ./kestrel pages runs this test to have its page written; it may then look at more than
/// it does otherwise.
inline bool pagesAreWritten() {
    return qEnvironmentVariableIsSet("KESTREL_PAGES");
}

/// Writes a page into the folder that KESTREL_PAGES names; does nothing in a usual run.
inline void writePage(const QString& content, const QString& name) {
    if (!pagesAreWritten()) {
        return;
    }
    QFile out(qEnvironmentVariable("KESTREL_PAGES") + "/" + name);
    QVERIFY2(out.open(QIODevice::WriteOnly | QIODevice::Text), qPrintable(out.fileName()));
    out.write(content.toUtf8());
}

} // namespace kestrel::support
