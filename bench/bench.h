// The bench: every figure has a stable name, and is the median of its repetitions in one run.
#pragma once

namespace kettle::bench {

/// The chain of the demo kettle: evaluated and exported, one and two threads, and against a loop fused by
/// hand.
void registerChain();
/// A slider's change to the first and the full new picture of the model.
void registerPreview();

}  // namespace kettle::bench
