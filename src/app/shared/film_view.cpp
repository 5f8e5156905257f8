#include "app/shared/film_view.h"

#include "app/shared/film_strip.h"
#include "app/shared/stage.h"
#include "app/shared/transport.h"

#include <QVBoxLayout>

namespace kestrel::app {

FilmView::FilmView(Session& session, Thumbnails& thumbnails, QWidget* parent) : QWidget(parent) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(2);
    stage_ = new Stage(session);
    column->addWidget(stage_, 1);
    column->addWidget(new FilmStrip(session, thumbnails));
    transport_ = new Transport(session);
    column->addWidget(transport_);
}

} // namespace kestrel::app
