#pragma once

#include "desk/job.h"
#include "desk/open_clip.h"
#include "records/library.h"

#include <QObject>
#include <QTimer>

#include <optional>
#include <set>

namespace kestrel::desk {

/// Works out the player's body in space beside the interface wherever it is missing or outdated: in
/// the open rep first, then in the clip's others, then in the player's other clips. What comes out
/// follows from marks and film alone and is no edit. Of the open rep the body that is there follows
/// each mark at once, as far as it can without searching anew; readings stand on that until then.
class BodyFitting : public QObject {
    Q_OBJECT
  public:
    BodyFitting(records::Library& library, OpenClip& open, Judging& judging, Problems& problems);
    ~BodyFitting() override;

  signals:
    /// How far the open rep's is, of 1; nothing when it is not being worked out.
    void progress(std::optional<double> share);

  private:
    struct Task {
        model::RepId rep;
        prepare::BodyWork work;
    };

    /// Brings the open rep's body in line with marks that changed.
    void follow();
    /// Begins with what comes next, unless that is under way.
    void goOn();
    [[nodiscard]] std::optional<Task> next() const;
    /// Of a rep that is not the open one; nothing when it is done or could not be.
    [[nodiscard]] std::optional<Task> taskOf(const model::Player& player, const model::Clip& clip,
                                             const model::Rep& rep) const;
    void keep(const Task& task, const records::KeptBody& body);

    records::Library& library_;
    OpenClip& open_;
    Judging& judging_;
    Problems& problems_;
    QTimer settling_; ///< a landmark being dragged changes many times a second
    Job job_;
    Job followingJob_;
    bool following_ = false;
    std::string followed_; ///< the key of the work that was followed last
    std::optional<Task> underWay_;
    std::set<model::RepId> failed_; ///< not tried again until the program starts anew
};

} // namespace kestrel::desk
