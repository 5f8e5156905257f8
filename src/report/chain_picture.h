#pragma once

#include <QImage>
#include <QString>
#include <QStringList>

namespace kestrel::report {

/// A fault between what it can come from and what it can lead to.
struct Chain {
    QStringList from;
    QString fault;
    QStringList to;
};

/// The chain as a small picture: boxes with arrows from left to right, `width` pixels wide in a
/// font of `fontPixels`. What the causes and consequences are is also said by the place of their
/// boxes, not by colour alone. A null image for a fault that hangs together with nothing.
QImage chainPicture(const Chain& chain, int width, double fontPixels);

} // namespace kestrel::report
