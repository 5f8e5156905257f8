#include "words/words.h"

#include "words/catalogue.h"
#include "words/day_text.h"
#include "words/keys.h"
#include "words/measured.h"
#include "words/text.h"

#include <QCoreApplication>
#include <QStringList>

#include <algorithm>
#include <stdexcept>

namespace kestrel::words {
namespace {

using model::Argument;
using model::Message;

/// The context in which the catalogue's sentences are translated.
constexpr const char* catalogueContext = "Message";

struct Worded {
    QString operator()(const std::string& asItIs) const { return text(asItIs); }
    QString operator()(long long count) const { return QString::number(count); }
    QString operator()(model::Figure figure) const { return figureText(figure); }
    QString operator()(model::Day day) const { return dayText(day); }
    QString operator()(const model::Measured& value) const {
        return value.u95 ? valueText(value.value, *value.u95, value.unit)
                         : valueText(value.value, value.unit);
    }
    QString operator()(const model::MeasuredRange& range) const {
        return rangeText(range.range, range.unit);
    }
    QString operator()(const std::vector<Message>& part) const { return inWords(part.front()); }
};

QStringList wordedArguments(const Message& message) {
    QStringList arguments;
    std::transform(message.arguments.begin(), message.arguments.end(),
                   std::back_inserter(arguments),
                   [](const Argument& argument) { return std::visit(Worded(), argument); });
    return arguments;
}

/// Puts the arguments in at once, so that a file named “%2” stays one.
QString filled(const QString& sentence, const QStringList& arguments) {
    QString result;
    for (qsizetype i = 0; i < sentence.size(); ++i) {
        const bool place = sentence[i] == '%' && i + 1 < sentence.size() &&
                           sentence[i + 1] >= '1' && sentence[i + 1] <= '9';
        if (!place) {
            result += sentence[i];
            continue;
        }
        ++i;
        const qsizetype which = sentence[i].unicode() - '1';
        if (which >= arguments.size()) {
            throw std::logic_error("an argument is missing in “" + sentence.toStdString() + "”");
        }
        result += arguments[which];
    }
    return result;
}

/// The first count, which plural forms go by.
int countIn(const Message& message) {
    for (const Argument& argument : message.arguments) {
        if (const auto* count = std::get_if<long long>(&argument)) {
            return static_cast<int>(*count);
        }
    }
    return -1;
}

/// In the coach's language, with the keys of actions that the sentence names.
QString translated(const char* sentence, int count) {
    QString words = QCoreApplication::translate(catalogueContext, sentence, nullptr, count);
    return words.replace("{swapDepth}", keyName(Action::swapDepth))
        .replace("{confirmAll}", keyName(Action::confirmAll));
}

/// “a, b and c”: `last` joins the last two.
QString enumerated(QStringList parts, const char* last) {
    if (parts.size() < 2) {
        return parts.join(QString());
    }
    const QString end = parts.takeLast();
    return filled(translated(last, -1),
                  {parts.join(translated(QT_TRANSLATE_NOOP("Message", ", "), -1)), end});
}

} // namespace

QString inWords(const Message& message) {
    if (message.empty()) {
        return {};
    }
    const QStringList arguments = wordedArguments(message);
    if (message.id == "list.sentences") {
        return arguments.join(' ');
    }
    if (message.id == "list.and") {
        return enumerated(arguments, QT_TRANSLATE_NOOP("Message", "%1 and %2"));
    }
    if (message.id == "list.or") {
        return enumerated(arguments, QT_TRANSLATE_NOOP("Message", "%1 or %2"));
    }
    if (message.id == "as_it_is" || message.id == "value" || message.id == "range") {
        return arguments.front();
    }
    const char* sentence = sentenceOf(message.id);
    // A coach's own pack may name body parts and equipment as it likes.
    for (const std::string_view own : {"role.", "equipment."}) {
        if (sentence == nullptr && message.id.starts_with(own)) {
            return text(message.id.substr(own.size())).replace('_', ' ');
        }
    }
    if (sentence == nullptr) {
        throw std::logic_error("the catalogue has no message " + message.id);
    }
    return filled(translated(sentence, countIn(message)), arguments);
}

QStringList inWords(const std::vector<Message>& messages) {
    QStringList lines;
    for (const Message& message : messages) {
        lines << inWords(message);
    }
    return lines;
}

QString inWords(const model::InputError& error) {
    QStringList parts = inWords(std::vector{error.happened(), error.safe(), error.todo()});
    parts.removeAll(QString());
    return parts.join(' ');
}

QString verdictText(model::Verdict verdict) {
    return inWords(model::message("verdict." + std::string(name(verdict))));
}

QString kindText(std::string_view kindId) {
    return inWords(model::message("kind." + std::string(kindId)));
}

QString confidenceText(model::Confidence confidence) {
    return inWords(model::message("confidence." + std::string(name(confidence))));
}

std::string plain(const Message& message) {
    return inWords(message).toStdString();
}

} // namespace kestrel::words
