#pragma once

#include "desk/clip_edits.h"
#include "desk/open_clip.h"

#include <QPointF>
#include <QWidget>

#include <optional>
#include <string>
#include <vector>

class QCheckBox;
class QComboBox;
class QDoubleSpinBox;
class QFormLayout;
class QLabel;
class QPushButton;
class QVBoxLayout;

namespace kestrel::app {

class GroundPlan;
class Loupe;
class Stage;

/// Marks a place of known size on the ground of a clip, point by point, and shows what follows: the
/// camera's place, a grid in true perspective, distances over the ground.
class GroundPanel : public QWidget {
    Q_OBJECT
  public:
    GroundPanel(desk::OpenClip& open, desk::ClipEdits& clipEdits, Stage& stage,
                QWidget* parent = nullptr);

    /// Whether clicks on the stage mark points, and the grid is shown.
    void setMarking(bool marking);

  private:
    QWidget* makeSizes();
    void addResults(QVBoxLayout& column);
    void listen();
    void choosePlace();
    void saySizes();
    void clicked(QPointF picture);
    void skip();
    void clickedOnEdge(model::Point2 px);
    /// Where a point of this frame's picture lies in that of the marks' frame.
    [[nodiscard]] model::Point2 toMarksPicture(model::Point2 px) const;
    [[nodiscard]] model::Point2 fromMarksPicture(model::Point2 px) const;
    void refresh();
    /// What is marked of `known`, what is asked for next and what follows.
    void showMarks(const technique::GroundPlace& known);
    void refreshStage();
    [[nodiscard]] std::optional<technique::GroundPlace> place() const;
    /// The next point that is neither marked nor passed over.
    [[nodiscard]] std::string nextPoint() const;
    [[nodiscard]] QString resultText() const;
    [[nodiscard]] QString lengthText() const;
    [[nodiscard]] bool isLength() const;
    /// From the picture of a frame to the one in which the ground is known, and back.
    [[nodiscard]] model::Point2 toGroundPicture(model::Point2 px) const;
    [[nodiscard]] model::Point2 fromGroundPicture(model::Point2 px) const;

    desk::OpenClip& open_;
    desk::ClipEdits& clipEdits_;
    Stage& stage_;
    QComboBox* place_ = nullptr;
    QWidget* sizes_ = nullptr;
    QFormLayout* sizeRows_ = nullptr;
    QDoubleSpinBox* along_ = nullptr;
    QDoubleSpinBox* across_ = nullptr;
    GroundPlan* plan_ = nullptr;
    QLabel* asked_ = nullptr;
    QPushButton* skip_ = nullptr;
    QPushButton* clear_ = nullptr;
    QPushButton* edge_ = nullptr;
    QLabel* result_ = nullptr;
    QCheckBox* grid_ = nullptr;
    QPushButton* measure_ = nullptr;
    QLabel* measured_ = nullptr;
    Loupe* loupe_ = nullptr;
    bool marking_ = false;
    bool edgeBegun_ = false; ///< further clicks belong to the last straight edge
    bool filling_ = false;
    std::vector<std::string> passedOver_; ///< points the coach cannot see
    std::string wanted_;                  ///< a point chosen on the plan
    std::vector<model::Point2> ends_;     ///< of the distance measured, in the ground's picture
};

} // namespace kestrel::app
