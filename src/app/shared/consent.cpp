#include "app/shared/consent.h"

#include "app/shared/text.h"

#include <QCoreApplication>
#include <QMessageBox>

namespace kestrel::app {
namespace {

/// Its words, for translators.
class ConsentWords {
    Q_DECLARE_TR_FUNCTIONS(kestrel::app::ConsentWords)
};

} // namespace

bool mayGiveOut(QWidget* parent, const model::Player& player, const QString& shows) {
    if (!player.consentGiven.empty()) {
        return true;
    }
    return QMessageBox::question(
               parent, ConsentWords::tr("No consent"),
               ConsentWords::tr("There is no consent to film for %1. %2 Save it all the same?")
                   .arg(text(player.name), shows),
               QMessageBox::Save | QMessageBox::Cancel, QMessageBox::Cancel) == QMessageBox::Save;
}

} // namespace kestrel::app
