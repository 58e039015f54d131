// What a Blend makes of every under, for the over of one place: a curve for each component, and where the
// place itself lands.
#pragma once

#include <QPointF>
#include <QWidget>
#include <memory>

#include "core/analysis/transfer.h"

namespace kettle {

class TransferPlot final : public QWidget {
    Q_OBJECT

public:
    explicit TransferPlot(QWidget* parent = nullptr);
    /// `place` in texture space; `isProbed`: under the pointer, else the one it left last.
    void setTransfer(std::shared_ptr<const BlendTransfer> transfer, QPointF place);
    /// Why there is nothing to plot.
    void setSentence(const QString& sentence);
    /// Where an under and its result (0..1) lie, in pixels; for tests.
    QPointF pointOf(double under, double result) const;
    const BlendTransfer* transfer() const { return m_transfer.get(); }
    QSize sizeHint() const override { return {260, 132}; }

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    QRectF field() const;
    void paintCurves(class QPainter& p) const;
    void paintNumbers(class QPainter& p) const;
    std::shared_ptr<const BlendTransfer> m_transfer;
    QPointF m_place;
    QString m_sentence;
};

}  // namespace kettle
