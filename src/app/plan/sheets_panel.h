#pragma once

#include "app/session.h"
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
    explicit SheetsPanel(Session& session, QWidget* parent = nullptr);

    /// Makes the sheet anew from the session, in the background.
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
    void keepPlan();
    [[nodiscard]] bool mayGiveOut();
    void told(const std::exception_ptr& error);
    [[nodiscard]] static QString makingText();
    [[nodiscard]] Kind kind() const;
    [[nodiscard]] report::Paper paper() const;

    Session& session_;
    QComboBox* kind_ = nullptr;
    QComboBox* paper_ = nullptr;
    QCheckBox* blur_ = nullptr;
    QComboBox* frames_ = nullptr;
    QSpinBox* count_ = nullptr;
    QCheckBox* constructs_ = nullptr;
    QWidget* numberedChoices_ = nullptr;
    QTextBrowser* preview_ = nullptr;
    QLabel* state_ = nullptr;
    QPushButton* saveHtml_ = nullptr;
    QPushButton* savePdf_ = nullptr;
    QPushButton* savePng_ = nullptr;
    Made made_;
    int building_ = 0; ///< number of the newest build; older ones are dropped
};

} // namespace kestrel::app
