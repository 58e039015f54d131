// One row for each sort of control: numbers, choices, switches, colours.
#include "app/style/word_search.h"
#include "app/tuner/tuner_view.h"

#include <QCheckBox>
#include <QComboBox>
#include <QGridLayout>
#include <QLabel>
#include <QPushButton>
#include <QRandomGenerator>
#include <QToolButton>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

#include "app/fields/colour_field.h"
#include "app/fields/number_field.h"
#include "app/fields/rows.h"
#include "app/pictures/step_words.h"
#include "app/style/labels.h"
#include "app/style/theme.h"
#include "core/document/edits.h"
#include "core/document/layers.h"
#include "core/steps/blend.h"

namespace kettle {

void TunerView::addNumber(QGridLayout& row, const ControlSpec& control) {
    NumberStyle style{control.low, control.high, control.decimals, text(control.unit), control.low < 0, {},
                      {}};
    QString tip = text(control.tip);
    if (control.perSquare) {
        style.otherUnit = QStringLiteral("cm");
        // Asked when it is typed: the model may come later than this row.
        style.fromOther = [this](double size) { return size > 0 ? squareSize() / size : 0.0; };
        tip += tr(" A size can be typed as well, such as 5cm.");
    }
    const std::string id = control.id;
    const auto name = [&](QWidget* w, const char* kind) {
        w->setAccessibleName(text(control.name));
        w->setToolTip(tip);
        w->setObjectName(QLatin1String(kind) + text(id));
    };
    auto* field = new NumberField(style, row.parentWidget());
    name(field, "field-");
    field->setFixedWidth(kNumberWidth);
    joinGesture(field);
    connect(field, &NumberField::edited, this, [this, id](double v, bool g) { set(id, v, g); });
    m_refreshers.push_back([field, id](const StepView& v) { field->setValue(v[NumberHandle{id.c_str()}]); });
    row.addWidget(field, 0, 3);
    if (control.isRandom) {
        // Seeds have no order to slide along.
        auto* another = new QPushButton(tr("Another"), row.parentWidget());
        offerMenu(another, id);
        name(another, "another-");
        connect(another, &QPushButton::clicked, this, [this, id] {
            set(id, static_cast<double>(QRandomGenerator::global()->bounded(1, 10000)), false);
        });
        row.addWidget(another, 0, 2);
        return;
    }
    auto* slider = new ValueSlider(style, row.parentWidget());
    name(slider, "slider-");
    slider->setMinimumWidth(60);
    offerMenu(slider, id);
    joinGesture(slider);
    connect(slider, &ValueSlider::edited, this, [this, id](double v, bool g) { set(id, v, g); });
    m_refreshers.push_back(
        [slider, id](const StepView& v) { slider->setValue(v[NumberHandle{id.c_str()}]); });
    row.addWidget(slider, 0, 2);
    if (control.track != SliderTrack::Plain)
        m_spreadRefreshers.push_back([this, slider, track = control.track] { paintTrack(*slider, track); });
}

void TunerView::addChoice(QGridLayout& row, const StepSpec& spec, const ControlSpec& control) {
    auto* box = new QComboBox(row.parentWidget());
    searchByWords(*box);
    box->setAccessibleName(text(control.name));
    box->setObjectName(QStringLiteral("choice-") + text(control.id));
    box->setToolTip(text(control.tip));
    box->setMinimumWidth(60);
    offerMenu(box, control.id);
    const Line* line = m_session.selectedLine();
    for (const Choice& c : control.choices)
        if (c.id != kFillMode.idOf(BlendMode::ByHeight) ||
            (line != nullptr && line->channel == channel::kHeight))
            box->addItem(text(c.name), text(c.id));
    const std::string id = control.id;
    connect(box, &QComboBox::activated, this,
            [this, box, id](int i) { set(id, box->itemData(i).toString().toStdString(), false); });
    m_refreshers.push_back([box, id](const StepView& v) {
        box->setCurrentIndex(box->findData(text(v[TextHandle{id.c_str()}])));
    });
    row.addWidget(box, 0, 2, 1, 2);
    if (spec.editor == StepEditor::BlendModes && control.id == kBlendSpace.id) {
        auto* why = quietLabel({}, row.parentWidget());
        row.addWidget(why, 1, 2, 1, 2);
        m_refreshers.push_back([why](const StepView& v) { why->setText(text(blendSpaceReason(v))); });
    }
}

void TunerView::addToggle(QGridLayout& row, const ControlSpec& control) {
    auto* box = new QCheckBox(row.parentWidget());
    box->setAccessibleName(text(control.name));
    box->setObjectName(QStringLiteral("toggle-") + text(control.id));
    box->setToolTip(text(control.tip));
    const std::string id = control.id;
    connect(box, &QCheckBox::clicked, this, [this, id](bool on) { set(id, on, false); });
    m_refreshers.push_back([box, id](const StepView& v) { box->setChecked(v[ToggleHandle{id.c_str()}]); });
    row.addWidget(box, 0, 2, 1, 2);
}

void TunerView::addColour(QVBoxLayout& column, const ControlSpec& control) {
    QGridLayout* row = addRow(column);
    row->setVerticalSpacing(4);
    const bool isNamed = control.id != kColour.id;
    row->addWidget(makeResetDot(control, row->parentWidget()), 0, 0);
    if (isNamed) row->addWidget(new QLabel(text(control.name), row->parentWidget()), 0, 1, 1, 3);
    auto* field = new ColourField(row->parentWidget());
    field->setToolTip(text(control.tip));
    const std::string id = control.id;
    equip(field);
    offerMenu(field, id);
    joinGesture(field);
    connect(field, &ColourField::edited, this, [this, id](const Colour& c, bool g) { set(id, c, g); });
    m_refreshers.push_back([field, id](const StepView& v) { field->setColour(v[ColourHandle{id.c_str()}]); });
    row->addWidget(field, isNamed ? 1 : 0, 1, 1, 3);
}

}  // namespace kettle
