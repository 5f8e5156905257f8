#pragma once

#include "desk/clip_edits.h"
#include "desk/open_clip.h"
#include "desk/rep_edits.h"
#include "desk/shelf.h"

#include <QWidget>

#include <string>
#include <vector>

class QCheckBox;
class QLabel;
class QPushButton;
class QScrollArea;
class QTreeWidget;
class QVBoxLayout;

namespace kestrel::app {

/// The readings with range, verdict and uncertainty; choosing one shows on the frame how it was
/// made, and tells it in words.
class ReadingsPanel : public QWidget {
    Q_OBJECT
  public:
    explicit ReadingsPanel(desk::Shelf& shelf, desk::OpenClip& open, desk::RepEdits& repEdits,
                           desk::ClipEdits& clipEdits, QWidget* parent = nullptr);

    /// Says the other way of how the chosen reading's line or limb lies in depth: which end is
    /// nearer, or whether the joint sticks out, lies between, or nobody knows.
    void swapDepth();

    /// Answers the first question of this position that is open, else the last one answered.
    void answer(model::Seen seen);

    /// Asks for the curves over time, or no longer.
    void toggleCurves();
    void toggleBody() { setBody(!body_->isChecked()); }
    void setBody(bool wanted);

    /// The position whose readings are listed, unless all are asked for.
    void setPosition(const std::string& positionId);

  signals:
    void curvesWanted(bool wanted);
    /// Asks for the body in space, or no longer.
    void bodyWanted(bool wanted);
    /// A reading was chosen, by measure id; empty: none is.
    void chosen(const QString& measureId);
    /// What to draw on the frame: the chosen reading, or all of this position.
    void shown(const std::vector<kestrel::model::Reading>& readings);

  private:
    void addReadings(QVBoxLayout& column);
    void addTop(QVBoxLayout& column);
    void refresh();
    void rebuildObservations();
    [[nodiscard]] QWidget* makeCount(const technique::Measure& measure);
    void showChosen();
    void showEdition();
    void askForSchools();
    void showDepth();
    void showNearerEnd();
    void showLimb(const model::LimbChoice& limb);
    /// The line through hips or shoulders that the chosen reading is about.
    struct TurnedLine {
        std::string position;
        model::BodyLine line;
        model::Side leadSide;
        QString leadName;
        QString trailName;
    };
    [[nodiscard]] std::optional<TurnedLine> turnedLine() const;
    /// Of the chosen reading; null when there is none, or its value is the same either way.
    [[nodiscard]] const model::LimbChoice* limbChoice() const;
    [[nodiscard]] QString explanation(const model::Reading& reading) const;

    desk::Shelf& shelf_;
    desk::OpenClip& open_;
    desk::RepEdits& repEdits_;
    desk::ClipEdits& clipEdits_;
    std::string position_;
    std::string chosen_; ///< measure id, empty when none is
    QTreeWidget* tree_ = nullptr;
    QCheckBox* all_ = nullptr;
    QPushButton* curves_ = nullptr;
    QPushButton* body_ = nullptr;
    QPushButton* schools_ = nullptr;
    QLabel* edition_ = nullptr;
    QPushButton* judgeAnew_ = nullptr;
    QLabel* how_ = nullptr;
    QScrollArea* howArea_ = nullptr;
    QPushButton* depth_ = nullptr;
    QWidget* observations_ = nullptr;
    QVBoxLayout* observationRows_ = nullptr;
};

} // namespace kestrel::app
