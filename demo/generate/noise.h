// Noise for painting: gradient noise on a lattice that repeats, so that maps meet themselves at their edges.
#pragma once

namespace kettle::demo {

/// Gradient noise (Perlin 2002) of about -1..1, repeating after `period` lattice cells in both directions.
float noise(float x, float y, int period, unsigned seed);
/// `octaves` of it, each of twice the frequency and half the height; about -1..1.
float fractal(float u, float v, int cells, int octaves, unsigned seed);
/// Distance to the nearest random point and to the second nearest (Worley 1996), in cells; repeats.
struct Cells {
    float nearest, second, id;
};
Cells cellular(float u, float v, int cells, unsigned seed);

}  // namespace kettle::demo
