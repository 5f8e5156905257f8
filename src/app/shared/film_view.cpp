#include "app/shared/film_view.h"

#include "app/shared/clip_map.h"
#include "app/shared/stage.h"
#include "app/shared/transport.h"

#include <QVBoxLayout>

namespace kestrel::app {

FilmView::FilmView(desk::OpenClip& open, desk::ClipEdits& clipEdits, Thumbnails& thumbnails,
                   QWidget* parent)
    : QWidget(parent) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(2);
    stage_ = new Stage(open);
    column->addWidget(stage_, 1);
    map_ = new ClipMap(open, clipEdits, thumbnails);
    column->addWidget(map_);
    transport_ = new Transport(open, *map_);
    column->addWidget(transport_);
}

} // namespace kestrel::app
