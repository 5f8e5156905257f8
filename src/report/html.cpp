#include "report/html.h"

#include "report/fonts.h"
#include "report/palette.h"

namespace kestrel::report {

QString escaped(const QString& text) {
    return text.toHtmlEscaped();
}

QString heading(const QString& text) {
    return QStringLiteral("<h2 style=\"color:%1\">%2</h2>\n").arg(chestnut.name(), escaped(text));
}

QString pageHeading(const QString& text) {
    return QStringLiteral("<h2 style=\"color:%1;page-break-before:always\">%2</h2>\n")
        .arg(chestnut.name(), escaped(text));
}

QString paragraph(const QString& text) {
    return text.isEmpty() ? QString() : QStringLiteral("<p>%1</p>\n").arg(escaped(text));
}

QString labelled(const QString& label, const QString& text) {
    return text.isEmpty()
               ? QString()
               : QStringLiteral("<p><b>%1</b> %2</p>\n").arg(escaped(label), escaped(text));
}

QString list(const QStringList& items, const char* tag) {
    if (items.isEmpty()) {
        return {};
    }
    QString html = QStringLiteral("<%1>").arg(tag);
    for (const QString& item : items) {
        html += QStringLiteral("<li>%1</li>").arg(escaped(item));
    }
    return html + QStringLiteral("</%1>\n").arg(tag);
}

QString documentHtml(const QString& title, const QString& body) {
    return QStringLiteral("<!DOCTYPE HTML PUBLIC \"-//W3C//DTD HTML 4.01 Transitional//EN\">\n"
                          "<html lang=\"en\"><head><meta http-equiv=\"Content-Type\" "
                          "content=\"text/html; charset=utf-8\">"
                          "<title>%1</title><style type=\"text/css\">"
                          "body{font-family:'%2',sans-serif;color:%3;background:#ffffff} "
                          "td,th{font-size:small} "
                          "div{max-width:46em;margin-left:auto;margin-right:auto}"
                          "</style></head><body><div>\n%4</div></body></html>\n")
        .arg(escaped(title), fontFamily, nearBlack.name(), body);
}

} // namespace kestrel::report
