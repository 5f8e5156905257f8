#pragma once

#include "coaching/consistency.h"
#include "desk/judging.h"
#include "desk/open_clip.h"
#include "desk/problems.h"
#include "records/library.h"

#include <QWidget>

#include <vector>

class QComboBox;
class QLabel;
class QTreeWidget;

namespace kestrel::app {

class RepeatsChart;

/// What the player repeats well and what not, over the reps of the clip, the visit or all visits.
class ConsistencyPanel : public QWidget {
    Q_OBJECT
  public:
    ConsistencyPanel(const records::Library& library, desk::Problems& problems,
                     desk::Judging& judging, desk::FilmIndices& films, desk::OpenClip& open,
                     QWidget* parent = nullptr);

  protected:
    void showEvent(QShowEvent* event) override;

  private:
    enum Over { clip, visit, all };
    void refresh();
    /// The readings of each rep of the open clip's technique.
    [[nodiscard]] std::vector<std::vector<model::Reading>> readings(Over over);
    void showCourses();
    /// Makes and tries by spot, of packs that keep a record.
    void showRecord();
    /// The reps of the open clip's technique, with their clips.
    [[nodiscard]] std::vector<std::pair<model::Clip, model::Rep>> repsOver(Over over);
    /// Those of them that anybody has marked.
    [[nodiscard]] std::vector<std::pair<model::Clip, model::Rep>> reps(Over over);

    const records::Library& library_;
    desk::Problems& problems_;
    desk::Judging& judging_;
    desk::OpenClip& open_;
    QComboBox* over_ = nullptr;
    QLabel* summary_ = nullptr;
    QLabel* record_ = nullptr;
    QTreeWidget* table_ = nullptr;
    QLabel* courses_ = nullptr;
    RepeatsChart* chart_ = nullptr;
    std::string chosen_; ///< measure whose courses are shown
};

} // namespace kestrel::app
