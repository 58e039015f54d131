// Stack normals: lays the relief of a second normal map over that of the first.
//   reoriented (C. Barré-Brisebois and S. Hill 2012): t = base + (0, 0, 1), u = detail (-1, -1, 1);
//   t (t . u) / t.z - u.  whiteout: (xy sum, z product).  linear: the sum.  overlay: of the stored numbers.
// All of unit length. The detail is first mixed towards flat by amount x mask.
#include <fmt/format.h>

#include "core/steps/blend.h"
#include "core/steps/emitting.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/steps/stack_normals.cpp"
#include <hwy/foreach_target.h>
// The dispatching header must come first.
#include "core/steps/normals-inl.h"

HWY_BEFORE_NAMESPACE();
namespace kettle::HWY_NAMESPACE {

void Reoriented(const KernelCall& k) {
    StackOver<Stacking::Reoriented>(k);
}
void Whiteout(const KernelCall& k) {
    StackOver<Stacking::Whiteout>(k);
}
void Linear(const KernelCall& k) {
    StackOver<Stacking::Linear>(k);
}
void Overlay(const KernelCall& k) {
    StackOver<Stacking::Overlay>(k);
}

}  // namespace kettle::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace kettle {
namespace {

HWY_EXPORT(Reoriented);
HWY_EXPORT(Whiteout);
HWY_EXPORT(Linear);
HWY_EXPORT(Overlay);
const Op kReoriented{"stack-reoriented", [](const KernelCall& k) { HWY_DYNAMIC_DISPATCH(Reoriented)(k); }};
const Op kWhiteout{"stack-whiteout", [](const KernelCall& k) { HWY_DYNAMIC_DISPATCH(Whiteout)(k); }};
const Op kLinear{"stack-linear", [](const KernelCall& k) { HWY_DYNAMIC_DISPATCH(Linear)(k); }};
const Op kOverlay{"stack-overlay", [](const KernelCall& k) { HWY_DYNAMIC_DISPATCH(Overlay)(k); }};
}  // namespace

ControlSpec stackingControl() {
    return choiceControl(
        kStacking, "Way", Stacking::Reoriented,
        "Reoriented keeps both reliefs whole; the others are what other programs may expect.");
}

Value stackedNormals(Emitter& e, const Value& base, const Value& detail) {
    const Stacking way = e[kStacking];
    const Op& op = way == Stacking::Whiteout  ? kWhiteout
                   : way == Stacking::Linear  ? kLinear
                   : way == Stacking::Overlay ? kOverlay
                                              : kReoriented;
    const auto mask = e.fed(kMask, Kind::Scalar);
    const Reg first = e.program().emit(
        op, {base.r, base.g, base.b, detail.r, detail.g, detail.b, mask ? mask->r : e.constant(1.0f)},
        {e.real(kAmount)}, 3);
    return {Kind::Normal, first, first + 1, first + 2, kNoReg};
}

StepSpec stackNormalsStep() {
    StepSpec spec;
    spec.type = kStackNormals;
    spec.order = 172;
    spec.name = "Stack normals";
    spec.purpose = "Lays the relief of a second normal map over this one.";
    spec.kinds = {Kind::Normal};
    spec.controls = {amountControl(1.0), stackingControl()};
    FeedSpec detail{kNormalDetail.id, "Detail", Kind::Normal, "The normals that are laid over."};
    detail.isMain = true;
    spec.feeds = {detail, maskFeed("Where the detail is laid: white fully, black not at all.")};
    spec.example = {kAmount(1.0)};
    spec.telling = [](const StepView& v) {
        return fmt::format("{} {:.2f}", kStacking.nameOf(v[kStacking]), v[kAmount]);
    };
    spec.noEffect = [](const StepView& v) {
        return v.feed(kNormalDetail) == nullptr ? std::string("no detail is joined") : amountReason(v);
    };
    spec.emit = [](Emitter& e) {
        const auto detail_ = e.fed(kNormalDetail, Kind::Normal);
        const bool isNormal = detail_ && detail_->kind == Kind::Normal;
        return isNormal && e[kAmount] != 0 ? stackedNormals(e, e.input(), *detail_) : e.input();
    };
    return spec;
}

}  // namespace kettle
#endif
