#pragma once

#include "app/session.h"
#include "app/shared/pose_pictures.h"

#include <QDialog>

#include <string>
#include <vector>

class QComboBox;
class QLabel;
class QLineEdit;
class QListWidget;
class QPushButton;
class QSpinBox;
class QTextBrowser;

namespace kestrel::app {

/// The library of drills to search: by words, fault, equipment, place and minutes, with doses for
/// an age.
class DrillDialog : public QDialog {
    Q_OBJECT
  public:
    explicit DrillDialog(Session& session, QWidget* parent = nullptr);

    /// What was ticked, when the dialog was accepted.
    [[nodiscard]] std::vector<std::string> chosen() const;

  private:
    QWidget* makeFilters();
    void search();
    void showDrill();
    void drawPictures();
    /// The picture of the position in which the first fault of the pack that names the drill
    /// begins; null when there is none.
    [[nodiscard]] QImage pictureOf(const std::string& drillId) const;

    Session& session_;
    QLineEdit* words_ = nullptr;
    QComboBox* fault_ = nullptr;
    QComboBox* equipment_ = nullptr;
    QComboBox* place_ = nullptr;
    QSpinBox* minutes_ = nullptr;
    QSpinBox* age_ = nullptr;
    QListWidget* list_ = nullptr;
    QLabel* count_ = nullptr;
    QTextBrowser* page_ = nullptr;
    QPushButton* take_ = nullptr;
    PosePictures pictures_;
    std::vector<std::string> ticked_;
};

} // namespace kestrel::app
