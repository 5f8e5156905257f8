#pragma once

#include "app/shared/thumbnails.h"
#include "desk/desk.h"

#include <QMainWindow>

#include <atomic>
#include <memory>
#include <vector>

class QButtonGroup;
class QHBoxLayout;
class QLabel;
class QProgressBar;
class QPushButton;
class QStackedWidget;
class QToolButton;

namespace kestrel::app {

class BenchStation;
class CompareStation;
class FilmStation;
class PacksStation;
class PlanStation;
class SquadStation;

/// The one window: stations on the left, one visible at a time.
class MainWindow : public QMainWindow {
    Q_OBJECT
  public:
    enum Station { squad, film, bench, compare, plan, packs };

    explicit MainWindow(desk::Desk& desk, QWidget* parent = nullptr);
    ~MainWindow() override;

    void goTo(Station station);
    [[nodiscard]] Station station() const;
    /// Opens the clip and station of the last time, if any.
    void continueWhereLeft();
    /// Whether thumbnails are still being made.
    [[nodiscard]] bool thumbnailsBusy() { return thumbnails_.busy(); }
    [[nodiscard]] BenchStation& benchStation() { return *bench_; }
    [[nodiscard]] CompareStation& compareStation() { return *compare_; }
    [[nodiscard]] PlanStation& planStation() { return *plan_; }
    [[nodiscard]] FilmStation& filmStation() { return *film_; }
    [[nodiscard]] PacksStation& packsStation() { return *packs_; }

    /// Brings films in for a player, one after the other, in the background.
    void bringIn(const QStringList& files, model::PlayerId playerId);

  protected:
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dropEvent(QDropEvent* event) override;
    void closeEvent(QCloseEvent* event) override;

  private:
    QWidget* makeRail();
    QWidget* makeHeader();
    void makeProgress(QHBoxLayout& row);
    void askForFilms();
    void startNextImport();
    void showProblem(const desk::Problem& problem);
    void openFromSquad(model::ClipId clipId);
    void askForLostFilm(model::ClipId clipId, bool changed);
    /// Shows a position of a rep on the Bench, opening its clip when another one is open.
    void showOnBench(model::RepId repId, const QString& positionId);
    void showTitle();

    desk::Desk& desk_;
    Thumbnails thumbnails_;
    QStackedWidget* stack_ = nullptr;
    QButtonGroup* rail_ = nullptr;
    QLabel* title_ = nullptr;
    QToolButton* undo_ = nullptr;
    QToolButton* redo_ = nullptr;
    QProgressBar* progress_ = nullptr;
    QPushButton* cancel_ = nullptr;
    QLabel* progressText_ = nullptr;
    SquadStation* squad_ = nullptr;
    FilmStation* film_ = nullptr;
    BenchStation* bench_ = nullptr;
    CompareStation* compare_ = nullptr;
    PlanStation* plan_ = nullptr;
    PacksStation* packs_ = nullptr;
    std::vector<std::pair<QString, model::PlayerId>> waiting_; ///< films still to bring in
    desk::Job import_;                                         ///< the one being brought in
    bool importing_ = false;
    bool toBenchWhenOpen_ = false;
    /// A rep and a position of it to show as soon as its clip is open.
    std::optional<std::pair<model::RepId, QString>> wantedOnBench_;
};

} // namespace kestrel::app
