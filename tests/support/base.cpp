// Carries the precompiled header of the tests; it has nothing of its own.
