#include "app/shared/film_view.h"

#include "app/shared/clip_map.h"
#include "app/shared/stage.h"
#include "app/shared/transport.h"

#include <QHBoxLayout>
#include <QVBoxLayout>

namespace kestrel::app {
namespace {

/// How a row is shared out between the frame and what stands beside it.
constexpr int frameShare = 5;
constexpr int besideShare = 3;

} // namespace

FilmView::FilmView(desk::OpenClip& open, desk::ClipEdits& clipEdits, Thumbnails& thumbnails,
                   QWidget* parent)
    : QWidget(parent) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(2);
    stage_ = new Stage(open);
    frameRow_ = new QHBoxLayout;
    frameRow_->addWidget(stage_, frameShare);
    column->addLayout(frameRow_, 1);
    map_ = new ClipMap(open, clipEdits, thumbnails);
    column->addWidget(map_);
    transport_ = new Transport(open, *map_);
    column->addWidget(transport_);
}

void FilmView::putBesideFrame(QWidget* widget) {
    frameRow_->addWidget(widget, besideShare);
}

} // namespace kestrel::app
