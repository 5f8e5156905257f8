#pragma once

#include "desk/desk.h"

#include <QWidget>

class QLabel;
class QTabWidget;

namespace kestrel::app {

class AskBackCard;
class FilmPanel;
class FindingsPanel;
class FocusPanel;
class HomeworkPanel;
class SheetsPanel;

/// From what the visit showed to what the player takes home: findings, focus, homework, sheets and
/// review film.
class PlanStation : public QWidget {
    Q_OBJECT
  public:
    enum Page { sheets, homework, film };

    explicit PlanStation(desk::Desk& desk, QWidget* parent = nullptr);

    void choosePage(Page page);
    [[nodiscard]] FilmPanel& filmPanel() { return *film_; }

  signals:
    /// The coach wants to see a position of a rep on its frame.
    void showPosition(kestrel::model::RepId repId, const QString& positionId);
    /// A file was written.
    void saved(const QString& file);

  protected:
    void showEvent(QShowEvent* event) override;
    void hideEvent(QHideEvent* event) override;

  private:
    QWidget* makeChoices();
    QWidget* makePages();
    void refresh();
    /// Fills the page that is in front; the others are filled when they come there.
    void refreshPage();

    desk::Desk& desk_;
    QLabel* heading_ = nullptr;
    QLabel* empty_ = nullptr;
    QWidget* choices_ = nullptr;
    AskBackCard* askBack_ = nullptr;
    FindingsPanel* findings_ = nullptr;
    FocusPanel* focus_ = nullptr;
    QTabWidget* pages_ = nullptr;
    SheetsPanel* sheets_ = nullptr;
    HomeworkPanel* homework_ = nullptr;
    FilmPanel* film_ = nullptr;
    bool stale_ = true;
};

} // namespace kestrel::app
