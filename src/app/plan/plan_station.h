#pragma once

#include "app/session.h"
#include "report/take_home.h"

#include <QTimer>
#include <QWidget>

#include <filesystem>
#include <memory>

class QComboBox;
class QLabel;
class QPlainTextEdit;
class QPushButton;
class QTextBrowser;
class QVBoxLayout;

namespace kestrel::app {

/// Findings with their reasons, the one focus with cues and drills, and the take-home sheet.
class PlanStation : public QWidget {
    Q_OBJECT
  public:
    explicit PlanStation(Session& session, QWidget* parent = nullptr);

  signals:
    /// The coach wants to see this reading on the frame.
    void showPosition(const QString& positionId);
    /// A sheet was written.
    void saved(const QString& file);

  protected:
    void showEvent(QShowEvent* event) override;
    void hideEvent(QHideEvent* event) override;

  private:
    enum class Format { html, pdf };

    QWidget* makeChoices();
    QWidget* makeSheet();
    void refresh();
    void refreshFindings();
    void refreshDrills();
    void buildSheet();
    void showSheet();
    void save(Format format);
    void keepNote();
    [[nodiscard]] QString faultText(const model::Fault& fault) const;

    Session& session_;
    QLabel* heading_ = nullptr;
    QLabel* why_ = nullptr;
    QComboBox* focus_ = nullptr;
    QLabel* cues_ = nullptr;
    QWidget* drills_ = nullptr;
    QVBoxLayout* drillRows_ = nullptr;
    QVBoxLayout* findingRows_ = nullptr;
    QLabel* strengths_ = nullptr;
    QPlainTextEdit* note_ = nullptr;
    QTextBrowser* preview_ = nullptr;
    QLabel* state_ = nullptr;
    QPushButton* saveHtml_ = nullptr;
    QPushButton* savePdf_ = nullptr;
    QTimer noteTimer_;
    std::shared_ptr<const report::TakeHome> sheet_;
    int building_ = 0; ///< number of the newest build; older ones are dropped
    bool stale_ = true;
    bool filling_ = false;
};

} // namespace kestrel::app
