#pragma once

#include "app/plan/voice.h"
#include "desk/film_indices.h"
#include "desk/job.h"
#include "desk/judging.h"
#include "desk/open_clip.h"
#include "desk/open_visit.h"
#include "desk/problems.h"
#include "desk/rep_edits.h"
#include "records/library.h"
#include "report/review_film.h"

#include <QTimer>
#include <QWidget>

#include <atomic>
#include <memory>

class QCheckBox;
class QComboBox;
class QDoubleSpinBox;
class QLabel;
class QListWidget;
class QPlainTextEdit;
class QProgressBar;
class QPushButton;
class QToolButton;

namespace kestrel::app {

class FilmPreview;

/// The review film of the open rep: proposed from the findings, edited as a list of steps, played
/// here and written as a film with captions.
class FilmPanel : public QWidget {
    Q_OBJECT
  public:
    explicit FilmPanel(const records::Library& library, desk::Problems& problems,
                       desk::Judging& judging, desk::OpenClip& open, desk::OpenVisit& visit,
                       desk::RepEdits& repEdits, desk::FilmIndices& films,
                       QWidget* parent = nullptr);
    ~FilmPanel() override;

    /// Fills the panel from the clip that has to be open.
    void refresh();
    /// Whether faces are blurred in it.
    void setBlurFaces(bool blur);
    /// What the voice is recorded from, instead of this computer's microphone.
    void setMicrophone(OpenSound open) { microphone_ = std::move(open); }
    /// Keeps a caption that is still being typed.
    void finishTyping();

  signals:
    void saved(const QString& file);

  private:
    QWidget* makeSteps();
    QWidget* makeFields();
    void listenToFields();
    QWidget* makeBottom();
    void propose();
    void endExport(const QString& how);
    void addStop();
    void addStretch();
    void removeStep();
    void moveStep(int by);
    void showSteps();
    void showStep();
    void fillMeasures(const model::ScriptStep& step);
    void fillBeside(const model::ScriptStep& step);
    void showFilm();
    /// Changes the step that is chosen.
    void change(const QString& what, const std::function<void(model::ScriptStep&)>& edit);
    void keepCaption();
    void toggleRecording();
    void importVoice();
    void keepVoice(const std::vector<float>& samples);
    void save();
    [[nodiscard]] std::shared_ptr<const report::ReviewFilm> film() const;
    [[nodiscard]] QString titleOf(const model::ScriptStep& step) const;
    [[nodiscard]] int row() const;
    void insert(const model::ScriptStep& step, const QString& what);

    const records::Library& library_;
    desk::Problems& problems_;
    desk::Judging& judging_;
    desk::OpenClip& open_;
    desk::OpenVisit& visit_;
    desk::RepEdits& repEdits_;
    desk::FilmIndices& films_;
    FilmPreview* preview_ = nullptr;
    QListWidget* steps_ = nullptr;
    QWidget* fields_ = nullptr;
    QPlainTextEdit* caption_ = nullptr;
    QLabel* secondsLabel_ = nullptr;
    QDoubleSpinBox* seconds_ = nullptr;
    QLabel* speedLabel_ = nullptr;
    QComboBox* speed_ = nullptr;
    QComboBox* measure_ = nullptr;
    QComboBox* beside_ = nullptr;
    QCheckBox* ring_ = nullptr;
    QPushButton* record_ = nullptr;
    QPushButton* bringVoice_ = nullptr;
    QPushButton* noVoice_ = nullptr;
    QPushButton* play_ = nullptr;
    QPushButton* export_ = nullptr;
    QPushButton* cancel_ = nullptr;
    QProgressBar* progress_ = nullptr;
    QLabel* state_ = nullptr;
    QTimer captionTimer_;
    std::optional<OpenSound> microphone_ = microphone();
    std::unique_ptr<SoundSource> recording_; ///< a voice being recorded
    VoicePlayer player_;
    desk::Job job_; ///< the film being written
    bool exporting_ = false;
    model::ReviewScript script_;
    int captionRow_ = -1; ///< the step whose caption is being typed
    model::RepId shownRep_;
    bool blur_ = false;
    bool filling_ = false;
};

} // namespace kestrel::app
