#pragma once

#include <QString>
#include <QStringList>

/// Pieces of HTML that a browser and QTextDocument lay out alike (HTML 4.01). All texts are
/// escaped.
namespace kestrel::report {

QString escaped(const QString& text);
/// A heading of a part of the document.
QString heading(const QString& text);
/// The same at the top of a new page.
QString pageHeading(const QString& text);
/// Nothing for an empty text; so does labelled().
QString paragraph(const QString& text);
QString labelled(const QString& label, const QString& text);
/// `tag` is ul or ol; nothing for no items.
QString list(const QStringList& items, const char* tag = "ul");
/// The whole document round a body that is HTML already.
QString documentHtml(const QString& title, const QString& body);

} // namespace kestrel::report
