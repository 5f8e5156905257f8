#pragma once

#include "desk/job.h"
#include "desk/shelf.h"

#include <QTextBrowser>

#include <map>
#include <memory>
#include <string>

namespace kestrel::app {

/// A pack as a page to read, with pictures of its positions from the synthetic player. They are
/// drawn in the background once and kept in the cache folder of the desktop.
class PackReader : public QTextBrowser {
    Q_OBJECT
  public:
    explicit PackReader(desk::Shelf& shelf, QWidget* parent = nullptr);
    ~PackReader() override;

    void setPack(const technique::Pack& pack);
    /// Shows drills instead of a pack.
    void setDrills(const coaching::DrillLibrary& drills);
    void setLoadRule(const coaching::LoadRule& rule);
    /// Whether pictures are still being drawn.
    [[nodiscard]] bool busy() const { return drawing_; }

  signals:
    void finished(); ///< pictures are there, or there are none

  protected:
    QVariant loadResource(int type, const QUrl& name) override;

  private:
    void showPage();
    void drawPictures(const std::string& technique);

    desk::Shelf& shelf_;
    std::unique_ptr<technique::Pack> pack_;
    std::map<std::string, std::map<std::string, QImage>> pictures_; ///< by technique, position
    std::map<QString, QImage> images_;                              ///< of the page shown
    desk::Job job_;                                                 ///< pictures being drawn
    bool drawing_ = false;
};

} // namespace kestrel::app
