#pragma once

#include "desk/judging.h"
#include "desk/open_clip.h"
#include "desk/open_visit.h"
#include "desk/plan_edits.h"
#include "desk/problems.h"
#include "desk/settings.h"
#include "desk/shelf.h"
#include "records/library.h"
#include "report/coach_report.h"
#include "report/document_pdf.h"
#include "report/take_home.h"

#include <QWidget>

#include <memory>

class QCheckBox;
class QComboBox;
class QLabel;
class QPushButton;
class QSpinBox;
class QTextBrowser;

namespace kestrel::app {

/// The sheets of the visit, to look at and to save: for the player, for the coach, and the
/// numbered sheet of the rep.
class SheetsPanel : public QWidget {
    Q_OBJECT
  public:
    explicit SheetsPanel(const records::Library& library, desk::Settings& settings,
                         desk::Problems& problems, desk::Shelf& shelf, desk::OpenClip& open,
                         desk::OpenVisit& visit, desk::PlanEdits& planEdits,
                         desk::FilmIndices& films, model::Clock clock, QWidget* parent = nullptr);

    /// Makes the sheet anew in the background.
    void refresh();
    /// There is no clip open.
    void clear();
    [[nodiscard]] bool blurFaces() const;

  signals:
    void saved(const QString& file);
    /// The coach wants faces blurred, or not, in what is given out.
    void blurChosen(bool blur);

  private:
    enum Kind { takeHome, coachReport, numbered };
    enum class Format { html, pdf, png };
    /// What was made: one of these, by kind.
    struct Made {
        std::shared_ptr<const report::TakeHome> takeHome;
        std::shared_ptr<const report::CoachReport> coachReport;
        QImage numbered;
    };

    QWidget* makeTop();
    void show(const Made& made);
    void save(Format format);
    void chosenAnew();
    void keepPlan();
    void told(const std::exception_ptr& error);
    [[nodiscard]] static QString makingText();
    [[nodiscard]] Kind kind() const;
    [[nodiscard]] report::Paper paper() const;

    const records::Library& library_;
    desk::Settings& settings_;
    desk::Problems& problems_;
    desk::Shelf& shelf_;
    desk::OpenClip& open_;
    desk::OpenVisit& visit_;
    desk::PlanEdits& planEdits_;
    desk::FilmIndices& films_;
    model::Clock clock_;
    QComboBox* kind_ = nullptr;
    QComboBox* paper_ = nullptr;
    QCheckBox* blur_ = nullptr;
    QComboBox* frames_ = nullptr;
    QSpinBox* count_ = nullptr;
    QCheckBox* constructs_ = nullptr;
    QWidget* numberedChoices_ = nullptr;
    QTextBrowser* preview_ = nullptr;
    QLabel* state_ = nullptr;
    /// Where a sheet of this clip was last saved. It outlives a sheet that is made again because
    /// something was judged meanwhile, but not another choice of sheet.
    struct Saved {
        model::ClipId clip;
        QString text;
    };
    Saved saved_;
    QPushButton* saveHtml_ = nullptr;
    QPushButton* savePdf_ = nullptr;
    QPushButton* savePng_ = nullptr;
    Made made_;
    int building_ = 0; ///< number of the newest build; older ones are dropped
};

} // namespace kestrel::app
