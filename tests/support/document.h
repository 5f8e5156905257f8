#pragma once

#include <QFile>
#include <QTest>

/// Documents that a test makes and compares with the ones in docs/.
namespace kestrel::support {

/// Fails the running test when docs/`name` is not `content`, and says where what it should be was
/// written.
inline void compareDocument(const QString& content, const QString& name) {
    QFile document(QStringLiteral(KESTREL_DOCS "/") + name);
    const bool there = document.open(QIODevice::ReadOnly | QIODevice::Text);
    if (there && QString::fromUtf8(document.readAll()) == content) {
        return;
    }
    const QString fresh = QStringLiteral(KESTREL_TEST_FILMS "/../") + name;
    QFile out(fresh);
    if (out.open(QIODevice::WriteOnly | QIODevice::Text)) {
        out.write(content.toUtf8());
    }
    QFAIL(qPrintable("docs/" + name + " is behind; what it should be: " + fresh));
}

} // namespace kestrel::support
