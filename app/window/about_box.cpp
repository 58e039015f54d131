#include "app/window/about_box.h"

#include <QDialog>
#include <QLabel>
#include <QPushButton>
#include <QTextBrowser>
#include <QVBoxLayout>

#include "core/base/machine.h"

namespace kettle {
namespace {

/// What is linked or shipped, and under which licence.
const char* const kWorks[][2] = {{"Qt 6", "LGPL 3"},
                                 {"OpenImageIO", "Apache 2.0"},
                                 {"OpenColorIO", "BSD 3-clause"},
                                 {"Embree 3", "Apache 2.0"},
                                 {"oneTBB", "Apache 2.0"},
                                 {"Highway", "Apache 2.0"},
                                 {"assimp", "BSD 3-clause"},
                                 {"nlohmann-json", "MIT"},
                                 {"pugixml", "MIT"},
                                 {"fmt, spdlog", "MIT"},
                                 {"tl-expected", "CC0"},
                                 {"CLI11", "BSD 3-clause"},
                                 {"libdeflate", "MIT"},
                                 {"libtiff", "libtiff licence"},
                                 {"Little CMS", "MIT"},
                                 {"zlib", "zlib licence"},
                                 {"Inter (typeface)", "SIL Open Font Licence 1.1"}};

}  // namespace

void showAbout(QWidget* window) {
    auto* box = new QDialog(window);
    box->setAttribute(Qt::WA_DeleteOnClose);
    box->setWindowTitle(QDialog::tr("About Pale Kettle"));
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(24, 20, 24, 16);
    column->setSpacing(10);
    auto* title =
        new QLabel(QDialog::tr("Pale Kettle %1").arg(QString::fromStdString(programVersion())), box);
    title->setObjectName(QStringLiteral("title"));
    auto* purpose = new QLabel(
        QDialog::tr("Recolours and blends finished texture sets. Source maps are never written to."), box);
    purpose->setObjectName(QStringLiteral("quiet"));
    auto* works = new QTextBrowser(box);
    works->setAccessibleName(QDialog::tr("What it is built on"));
    QString text =
        QDialog::tr("<p>Under the Apache License, version 2.0. It is built on:</p><table cellspacing=\"4\">");
    for (const auto& work : kWorks)
        text += QStringLiteral("<tr><td>%1&nbsp;&nbsp;</td><td>%2</td></tr>")
                    .arg(QString::fromUtf8(work[0]), QString::fromUtf8(work[1]));
    works->setHtml(text + QStringLiteral("</table>"));
    works->setFixedSize(420, 330);
    auto* close = new QPushButton(QDialog::tr("Close"), box);
    QObject::connect(close, &QPushButton::clicked, box, &QDialog::close);
    column->addWidget(title);
    column->addWidget(purpose);
    column->addWidget(works);
    column->addWidget(close, 0, Qt::AlignRight);
    close->setFocus();
    box->show();
}

}  // namespace kettle
