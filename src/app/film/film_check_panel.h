#pragma once

#include "desk/open_clip.h"
#include "desk/problems.h"
#include "technique/judge/film_check.h"

#include <QWidget>

class QLabel;
class QTreeWidget;
class QVBoxLayout;

namespace kestrel::app {

/// What this film can and cannot show of the technique, and how to film it next time.
class FilmCheckPanel : public QWidget {
    Q_OBJECT
  public:
    explicit FilmCheckPanel(desk::Problems& problems, desk::OpenClip& open,
                            QWidget* parent = nullptr);

  private:
    void refresh();
    void refreshTable(const technique::FilmFacts& facts);
    void saveCard();

    desk::Problems& problems_;
    desk::OpenClip& open_;
    QLabel* facts_ = nullptr;
    QLabel* remarks_ = nullptr;
    QTreeWidget* table_ = nullptr;
};

} // namespace kestrel::app
