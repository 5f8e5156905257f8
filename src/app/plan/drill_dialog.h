#pragma once

#include "app/shared/pose_pictures.h"
#include "desk/open_clip.h"
#include "desk/shelf.h"

#include <QDialog>

#include <map>
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
    explicit DrillDialog(desk::Shelf& shelf, desk::OpenClip& open, QWidget* parent = nullptr);

    /// What was ticked, when the dialog was accepted.
    [[nodiscard]] std::vector<std::string> chosen() const;

  private:
    QWidget* makeFilters();
    void search();
    void showDrill();
    /// The picture of the position in which a fault that names the drill begins, the open clip's
    /// technique first; null when there is none, or none yet: then it is being drawn.
    [[nodiscard]] QImage pictureOf(const std::string& drillId);
    void drawPictures(const technique::Pack& pack);

    desk::Shelf& shelf_;
    desk::OpenClip& open_;
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
    std::map<std::string, PosePictures> pictures_; ///< by technique; empty while being drawn
    std::vector<std::string> ticked_;
};

} // namespace kestrel::app
