#pragma once

#include "model/finding.h"
#include "model/input_error.h"
#include "model/message.h"

#include <QString>
#include <QStringList>

#include <string>
#include <vector>

/// The words of everything that the libraries have to say: one catalogue for the window, the sheets
/// and the command line. The sentences are English and go through Qt's translators.
namespace kestrel::words {

/// The message as a sentence or a name in the coach's language. A message without an id is empty
/// text. Throws std::logic_error for an id that the catalogue lacks and for missing arguments.
QString inWords(const model::Message& message);

/// One after the other.
QStringList inWords(const std::vector<model::Message>& messages);

/// What happened, what is safe and what to do, one after the other.
QString inWords(const model::InputError& error);

/// A message as UTF-8.
std::string plain(const model::Message& message);

/// “inside”, “edge”, “outside”, “no range”, “cannot be read”.
QString verdictText(model::Verdict verdict);

/// A measure kind by its id: “lean”, “offset to target”.
QString kindText(std::string_view kindId);

/// “possible”, “likely”, “sure”.
QString confidenceText(model::Confidence confidence);

} // namespace kestrel::words
