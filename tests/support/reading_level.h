#pragma once

#include <QRegularExpression>
#include <QString>

#include <algorithm>

/// How hard a text is to read.
namespace kestrel::support {

/// Syllables of an English word by its groups of vowels, a silent e at the end left out.
inline int syllables(const QString& word) {
    static const QRegularExpression vowels("[aeiouy]+");
    const QString small = word.toLower();
    int count = 0;
    auto groups = vowels.globalMatch(small);
    while (groups.hasNext()) {
        groups.next();
        ++count;
    }
    static const QRegularExpression silent("([^aeiouyl]e|[^aeiouytd]ed|[^aeiouycsxzg]es)$");
    if (count > 1 && silent.match(small).hasMatch()) {
        --count;
    }
    return std::max(1, count);
}

/// The Flesch–Kincaid grade level (Kincaid et al. 1975, Naval Technical Training Command, Research
/// Branch Report 8-75): the school year in the United States that can read the text; twelve-year-
/// olds are in the sixth and seventh. Every line ends a sentence.
inline double readingGrade(const QString& text) {
    static const QRegularExpression ends("[.!?:;\\n]+");
    static const QRegularExpression letters("[A-Za-z][A-Za-z'’]*");
    int sentences = 0;
    int words = 0;
    int all = 0;
    for (const QString& sentence : text.split(ends, Qt::SkipEmptyParts)) {
        auto found = letters.globalMatch(sentence);
        bool any = false;
        while (found.hasNext()) {
            all += syllables(found.next().captured());
            ++words;
            any = true;
        }
        sentences += any ? 1 : 0;
    }
    if (words == 0) {
        return 0.0;
    }
    return 0.39 * words / sentences + 11.8 * all / words - 15.59;
}

} // namespace kestrel::support
