// Fill: what a layer lays over one channel. On colours and greys as Blend does, by its formulas; by height it
// is laid on plainly, and the layer's mask goes by the heights. On normals: replace, n = normalise(u + w (o -
// u)); stack and flatten as Stack normals and Flatten. Weight 0 gives the under value bit for bit, and a
// plain fill that covers everything is the over value.
#include <fmt/format.h>

#include "core/document/layers.h"
#include "core/steps/blend.h"
#include "core/steps/emitting.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/steps/fill.cpp"
#include <hwy/foreach_target.h>
// The dispatching header must come first.
#include "core/steps/normals-inl.h"

HWY_BEFORE_NAMESPACE();
namespace kettle::HWY_NAMESPACE {

/// in: under, over (three each) and the mask; params: the amount.
void MixNormals(const KernelCall& k) {
    using D = hn::ScalableTag<float>;
    const D d;
    const auto amount = hn::Set(d, k.params[0]);
    for (const std::size_t i : VectorsOf(d, k)) {
        const auto under = LoadDirection(d, k, 0, i), over = LoadDirection(d, k, 3, i);
        const auto weight = hn::Mul(amount, hn::Load(d, k.in[6] + i));
        const auto mixed = [&](auto u, auto o) { return hn::MulAdd(hn::Sub(o, u), weight, u); };
        const Direction<D> n{mixed(under.x, over.x), mixed(under.y, over.y), mixed(under.z, over.z)};
        StoreDirection(d, Normalised(d, n), hn::Eq(weight, hn::Zero(d)), under, k, i);
    }
}

}  // namespace kettle::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace kettle {

// Each is made of another step's declaration.
StepSpec blendStep();
StepSpec flattenStep();

namespace {

HWY_EXPORT(MixNormals);
const Op kMixNormals{"mix-normals", [](const KernelCall& k) { HWY_DYNAMIC_DISPATCH(MixNormals)(k); }};

const StepSpec& blend() {
    static const StepSpec spec = blendStep();
    return spec;
}
const StepSpec& flatten() {
    static const StepSpec spec = flattenStep();
    return spec;
}

bool isPlain(const StepView& v) {
    if (v.kind() == Kind::Normal) return v[kNormals] == NormalFill::Replace;
    return v[kFillMode] == BlendMode::Normal || v[kFillMode] == BlendMode::ByHeight;
}

Value emitNormals(Emitter& e, const Value& over) {
    if (e[kNormals] == NormalFill::Flatten) {
        Emitter flat = e.as(StepView(flatten(), e.step(), e.kind()));
        return flatten().emit(flat);
    }
    if (e[kNormals] == NormalFill::Stack) return stackedNormals(e, e.input(), over);
    const Value u = e.input();
    const auto mask = e.fed(kMask, Kind::Scalar);
    const Reg first = e.program().emit(
        kMixNormals, {u.r, u.g, u.b, over.r, over.g, over.b, mask ? mask->r : e.constant(1.0f)},
        {e.real(kAmount)}, 3);
    return {Kind::Normal, first, first + 1, first + 2, kNoReg};
}

Value emit(Emitter& e) {
    const Value under = e.input();
    const bool isNormal = e.kind() == Kind::Normal;
    const bool needsOver = !(isNormal && e[kNormals] == NormalFill::Flatten);
    const auto joined = e.fed(kOver, e.kind());
    // A fill of a kind that cannot be laid here leaves the line as it is.
    if (needsOver && (!joined || (joined->kind == Kind::Normal) != isNormal)) return under;
    const auto mask = e.fed(kMask, Kind::Scalar);
    float weight = 1;
    const bool isEven = !mask || e.program().isConstant(mask->r, &weight);
    if (e[kAmount] == 0 || (isEven && weight == 0)) return under;
    const bool coversAll = isEven && weight == 1 && e[kAmount] == 1;
    if (isNormal) return coversAll && isPlain(e) ? *joined : emitNormals(e, *joined);
    if (coversAll && isPlain(e) && joined->kind == e.kind() && !e[kOwnTransparency])
        return {e.kind(), joined->r, joined->g, joined->b, under.a};
    Emitter blended = e.as(StepView(blend(), e.step(), e.kind()));
    return blend().emit(blended);
}

/// The controls of Blend that a fill has too, with "by height" among the modes.
std::vector<ControlSpec> blendControls() {
    std::vector<ControlSpec> controls;
    for (ControlSpec c : blend().controls) {
        if (c.id == kSwap.id) continue;
        c.kinds = {Kind::Colour, Kind::Scalar};
        if (c.id == kAmount.id) c.kinds = {};
        if (c.id == kFillMode.id)
            c.choices.push_back({kFillMode.idOf(BlendMode::ByHeight), kFillMode.nameOf(BlendMode::ByHeight)});
        controls.push_back(std::move(c));
    }
    const auto byHeight = [](ControlSpec c) {
        c.kinds = {Kind::Scalar};
        return shownWhile(kFillMode, {BlendMode::ByHeight}, std::move(c));
    };
    controls.push_back(
        byHeight(heightContrastControl("How much the heights say beside the mask, in all channels "
                                       "of the layer.")));
    controls.push_back(byHeight(heightSoftnessControl("How softly one goes over into the other.")));
    return controls;
}

}  // namespace

StepSpec fillStep() {
    StepSpec spec;
    spec.type = kFill;
    spec.order = 901;
    spec.name = "Fill";
    spec.purpose = "What a layer lays over this channel.";
    spec.kinds = {Kind::Colour, Kind::Scalar, Kind::Normal};
    spec.editor = StepEditor::BlendModes;
    spec.blend = {kOver, kMask, kAmount, kOwnTransparency};
    spec.controls = blendControls();
    ControlSpec normals = choiceControl(
        kNormals, "Mode", NormalFill::Replace,
        "Replace takes the fill's relief, stack lays it over the relief that is there, flatten takes all "
        "relief away.");
    ControlSpec way = stackingControl();
    normals.kinds = way.kinds = {Kind::Normal};
    way = shownWhile(kNormals, {NormalFill::Stack}, way);
    spec.controls.insert(spec.controls.begin(), {normals, way});
    spec.feeds = {{kOver.id, "Fill", std::nullopt, "What is laid over the channel.", true},
                  maskFeed("The layer that it belongs to: it lies where the layer does.")};
    spec.telling = [](const StepView& v) {
        const std::string words =
            v.kind() == Kind::Normal ? kNormals.nameOf(v[kNormals]) : kFillMode.nameOf(v[kFillMode]);
        return v[kAmount] == 1 ? words : fmt::format("{} {:.2f}", words, v[kAmount]);
    };
    spec.noEffect = [](const StepView& v) -> std::string {
        const bool flattens = v.kind() == Kind::Normal && v[kNormals] == NormalFill::Flatten;
        return v.feed(kOver) == nullptr && !flattens ? "nothing is filled in" : amountReason(v);
    };
    spec.warning = blend().warning;
    spec.emit = emit;
    return spec;
}

}  // namespace kettle
#endif
