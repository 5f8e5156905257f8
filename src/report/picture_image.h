#pragma once

#include "film/frame_server.h"

#include <QImage>

namespace kestrel::report {

/// A film picture as a QImage that shares its pixels and keeps them alive.
QImage imageOf(film::PicturePtr picture);

} // namespace kestrel::report
