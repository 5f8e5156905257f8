#pragma once

#include "technique/pack/ground_place.h"

#include <QWidget>

#include <optional>
#include <set>
#include <string>

namespace kestrel::app {

/// A place on the ground seen from above, target upwards: which points can be marked, which are,
/// which is asked for.
class GroundPlan : public QWidget {
    Q_OBJECT
  public:
    explicit GroundPlan(QWidget* parent = nullptr);

    void show(const technique::GroundPlace& place, const std::set<std::string>& marked,
              const std::string& asked);

    /// Where a point is drawn, for those who press it.
    [[nodiscard]] std::optional<QPointF> spotOf(const std::string& point) const;

    [[nodiscard]] QSize sizeHint() const override { return {220, 170}; }

  signals:
    void chosen(const QString& point);

  protected:
    void paintEvent(QPaintEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;

  private:
    std::optional<technique::GroundPlace> place_;
    std::set<std::string> marked_;
    std::string asked_;
};

} // namespace kestrel::app
