#include "app/film/reps_panel.h"

#include "app/shared/text.h"

#include <QComboBox>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QVBoxLayout>

#include <algorithm>
#include <cmath>

namespace kestrel::app {
RepsPanel::RepsPanel(desk::OpenClip& open, desk::ClipEdits& clipEdits, QWidget* parent)
    : QWidget(parent), open_(open), clipEdits_(clipEdits) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(8, 8, 8, 8);
    column->setSpacing(6);
    proposal_ = new QLabel;
    proposal_->setObjectName("repProposal");
    proposal_->setWordWrap(true);
    column->addWidget(proposal_);
    take_ = new QPushButton;
    take_->setObjectName("takeReps");
    take_->setProperty("role", "primary");
    column->addWidget(take_);
    list_ = new QListWidget;
    list_->setObjectName("reps");
    list_->setAccessibleName(tr("Reps of this clip"));
    column->addWidget(list_, 1);
    auto* row = new QHBoxLayout;
    add_ = new QPushButton(tr("Add a rep here"));
    add_->setObjectName("addRep");
    row->addWidget(add_);
    remove_ = new QPushButton(tr("Remove"));
    remove_->setObjectName("removeRep");
    row->addWidget(remove_);
    column->addLayout(row);

    auto* form = new QFormLayout;
    title_ = new QLineEdit;
    title_->setObjectName("repTitle");
    title_->setAccessibleName(tr("Name of the rep"));
    form->addRow(tr("Name"), title_);
    variant_ = new QComboBox;
    variant_->setObjectName("variant");
    variant_->setAccessibleName(tr("Start type"));
    form->addRow(tr("Start"), variant_);
    shot_ = new QComboBox;
    shot_->setObjectName("shotType");
    shot_->setAccessibleName(tr("Kind of pitch, stroke or shot"));
    form->addRow(tr("Kind"), shot_);
    result_ = new QLineEdit;
    result_->setObjectName("repResult");
    result_->setAccessibleName(tr("What became of it"));
    result_->setPlaceholderText(tr("in, out, hit, missed…"));
    form->addRow(tr("Result"), result_);
    column->addLayout(form);
    auto* ends = new QHBoxLayout;
    startHere_ = new QPushButton(tr("Starts here"));
    startHere_->setObjectName("repStartsHere");
    ends->addWidget(startHere_);
    endHere_ = new QPushButton(tr("Ends here"));
    endHere_->setObjectName("repEndsHere");
    ends->addWidget(endHere_);
    column->addLayout(ends);

    connect(take_, &QPushButton::clicked, this, [this] { clipEdits_.takeProposedReps(); });
    connect(list_, &QListWidget::currentRowChanged, this, [this](int chosen) {
        if (!filling_ && chosen >= 0) {
            open_.openRep(open_.reps()[static_cast<std::size_t>(chosen)].id);
        }
    });
    connect(add_, &QPushButton::clicked, this, [this] {
        // A second to both sides, to be pulled into shape on the map.
        const model::ClipTime& time = open_.circumstances().time;
        const model::Seconds now = time.fieldTimes()[static_cast<std::size_t>(open_.frame())];
        clipEdits_.addRep({model::frameAtFieldTime(time, now - model::Seconds(1.0)),
                           model::frameAtFieldTime(time, now + model::Seconds(1.0))});
    });
    connect(remove_, &QPushButton::clicked, this, [this] { clipEdits_.removeRep(open_.rep().id); });
    connect(title_, &QLineEdit::editingFinished, this, [this] {
        const std::string title = title_->text().trimmed().toStdString();
        if (!title.empty()) {
            changeRep(tr("Name the rep"), [&](model::Rep& rep) { rep.title = title; });
        }
    });
    connect(result_, &QLineEdit::editingFinished, this, [this] {
        changeRep(tr("Say the result"),
                  [&](model::Rep& rep) { rep.result = result_->text().trimmed().toStdString(); });
    });
    connect(variant_, &QComboBox::activated, this, [this] {
        changeRep(tr("Change the start type"), [&](model::Rep& rep) {
            rep.variant = variant_->currentData().toString().toStdString();
        });
    });
    connect(shot_, &QComboBox::activated, this, [this] {
        changeRep(tr("Say the kind of shot"), [&](model::Rep& rep) {
            rep.shotType = shot_->currentData().toString().toStdString();
        });
    });
    const auto moveEnd = [this](bool last) {
        changeRep(last ? tr("Say where the rep ends") : tr("Say where the rep starts"),
                  [&](model::Rep& rep) {
                      model::FrameSpan span =
                          rep.span.value_or(model::FrameSpan{0, open_.index().frameCount() - 1});
                      (last ? span.last : span.first) = open_.frame();
                      if (span.first <= span.last) {
                          rep.span = span;
                      }
                  });
    };
    connect(startHere_, &QPushButton::clicked, this, [moveEnd] { moveEnd(false); });
    connect(endHere_, &QPushButton::clicked, this, [moveEnd] { moveEnd(true); });
    connect(&open_, &desk::OpenClip::opened, this, [this] { refresh(); });
    connect(&open_, &desk::OpenClip::repOpened, this, [this] { refresh(); });
    connect(&open_, &desk::OpenClip::marksChanged, this, [this] { refresh(); });
    connect(&open_, &desk::OpenClip::studyProgress, this, [this] { refreshProposal(); });
}

void RepsPanel::changeRep(const QString& what, const std::function<void(model::Rep&)>& change) {
    if (filling_ || !open_.hasClip()) {
        return;
    }
    model::Rep rep = open_.rep();
    change(rep);
    if (rep != open_.rep()) {
        clipEdits_.setRep(rep, what);
    }
}

void RepsPanel::refreshProposal() {
    if (!open_.hasClip()) {
        return;
    }
    const int count = static_cast<int>(open_.proposedReps().size());
    take_->setVisible(count > 0);
    if (!open_.study()) {
        proposal_->setText(tr("The film is being looked at for reps; go on meanwhile."));
    } else if (count > 0) {
        proposal_->setText(
            tr("What moves when shows %n rep(s), dashed on the map.", nullptr, count));
        take_->setText(tr("Take the %n proposed rep(s)", nullptr, count));
    } else if (open_.reps().front().span) {
        proposal_->setText(tr("Click a rep to work on it; drag its ends on the map."));
    } else {
        proposal_->setText(tr("Nothing stands out in what moves: the clip is one rep. Add others "
                              "by hand where they are."));
    }
}

void RepsPanel::refresh() {
    if (!open_.hasClip()) {
        return;
    }
    filling_ = true;
    refreshProposal();
    const model::Rep& open = open_.rep();
    list_->clear();
    for (const model::Rep& rep : open_.reps()) {
        QString line = text(rep.title);
        if (rep.span) {
            const double seconds =
                model::elapsed(open_.circumstances().time, rep.span->first, rep.span->last).value;
            line += tr(" · frames %1 to %2, %3 s")
                        .arg(rep.span->first)
                        .arg(rep.span->last)
                        .arg(seconds, 0, 'f', 1);
        } else {
            line += tr(" · the whole clip");
        }
        const auto set =
            std::count_if(open_.pack().positions.begin(), open_.pack().positions.end(),
                          [&](const auto& p) { return !p.event && rep.positions.contains(p.id); });
        const auto found = std::count_if(
            open_.pack().positions.begin(), open_.pack().positions.end(),
            [&](const auto& p) { return !p.event && model::onlyFound(rep, p.id) != nullptr; });
        line += set + found == 0 ? tr("\nnot marked yet") : tr("\n%1 positions set").arg(set);
        if (found > 0) {
            line += tr(", %1 proposed").arg(found);
        }
        if (!rep.result.empty()) {
            line += " · " + text(rep.result);
        }
        list_->addItem(line);
        if (rep.id == open.id) {
            list_->setCurrentRow(list_->count() - 1);
        }
    }
    remove_->setEnabled(open_.reps().size() > 1);
    if (!title_->hasFocus()) {
        title_->setText(text(open.title));
    }
    if (!result_->hasFocus()) {
        result_->setText(text(open.result));
    }
    const auto fill = [](QComboBox* box, const auto& choices, const std::string& chosen) {
        box->clear();
        box->addItem(tr("not said"), QString());
        for (const auto& choice : choices) {
            box->addItem(text(choice.name), text(choice.id));
        }
        box->setCurrentIndex(std::max(0, box->findData(text(chosen))));
    };
    fill(variant_, open_.pack().variants, open.variant);
    fill(shot_, open_.pack().shots, open.shotType);
    filling_ = false;
}

} // namespace kestrel::app
