#include "demo/generate/paint.h"

#include <cmath>

#include "core/colour/encoding.h"
#include "core/threads/parallel.h"

namespace kettle::demo {

Canvas::Canvas(int size, const std::function<Texel(float, float)>& paint)
    : m_size(size), m_texels(static_cast<std::size_t>(size) * static_cast<std::size_t>(size)) {
    parallelFor(static_cast<std::size_t>(size), 8, [&](std::size_t begin, std::size_t end) {
        for (std::size_t y = begin; y < end; ++y)
            for (int x = 0; x < m_size; ++x)
                m_texels[y * static_cast<std::size_t>(m_size) + static_cast<std::size_t>(x)] =
                    paint((static_cast<float>(x) + 0.5f) / static_cast<float>(m_size),
                          1 - (static_cast<float>(y) + 0.5f) / static_cast<float>(m_size));
    });
}

float Canvas::heightAt(int x, int y) const {
    return at((x + m_size) % m_size, (y + m_size) % m_size).height;
}

PixelBuffer Canvas::colour() const {
    PixelBuffer p = PixelBuffer::make(m_size, m_size, 3, Depth::U8);
    for (int y = 0; y < m_size; ++y)
        for (int x = 0; x < m_size; ++x) {
            const Vec3 c = at(x, y).colour;
            std::uint8_t* to = p.row<std::uint8_t>(y) + 3 * x;
            to[0] = toByte(c.x), to[1] = toByte(c.y), to[2] = toByte(c.z);
        }
    return p;
}

PixelBuffer Canvas::grey(const std::function<float(const Texel&)>& value, Depth depth) const {
    PixelBuffer p = PixelBuffer::make(m_size, m_size, 1, depth);
    for (int y = 0; y < m_size; ++y)
        for (int x = 0; x < m_size; ++x) {
            const float v = std::clamp(value(at(x, y)), 0.0f, 1.0f);
            if (depth == Depth::U16)
                p.row<std::uint16_t>(y)[x] = static_cast<std::uint16_t>(v * 65535 + 0.5f);
            else
                p.row<std::uint8_t>(y)[x] = toByte(v);
        }
    return p;
}

PixelBuffer Canvas::normal(float strength) const {
    PixelBuffer p = PixelBuffer::make(m_size, m_size, 3, Depth::U8);
    for (int y = 0; y < m_size; ++y)
        for (int x = 0; x < m_size; ++x) {
            const float dx = (heightAt(x + 1, y) - heightAt(x - 1, y)) * 0.5f * strength;
            const float dy = (heightAt(x, y - 1) - heightAt(x, y + 1)) * 0.5f * strength;
            const Vec3 n = normalised({-dx, -dy, 1});
            std::uint8_t* to = p.row<std::uint8_t>(y) + 3 * x;
            to[0] = toByte(n.x * 0.5f + 0.5f), to[1] = toByte(n.y * 0.5f + 0.5f),
            to[2] = toByte(n.z * 0.5f + 0.5f);
        }
    return p;
}

float Canvas::openAt(int x, int y, float strength) const {
    const float here = at(x, y).height;
    float hidden = 0;
    for (const int radius : {2, 5, 10})
        for (int k = 0; k < 8; ++k) {
            const float angle = static_cast<float>(k) * 0.7853982f;
            const float above =
                heightAt(x + static_cast<int>(std::lround(std::cos(angle) * static_cast<float>(radius))),
                         y + static_cast<int>(std::lround(std::sin(angle) * static_cast<float>(radius)))) -
                here;
            hidden += std::max(0.0f, above) / static_cast<float>(radius);
        }
    return std::clamp(1 - hidden * strength, 0.0f, 1.0f);
}

PixelBuffer Canvas::occlusion(float strength) const {
    PixelBuffer p = PixelBuffer::make(m_size, m_size, 1, Depth::U8);
    for (int y = 0; y < m_size; ++y)
        for (int x = 0; x < m_size; ++x) p.row<std::uint8_t>(y)[x] = toByte(openAt(x, y, strength));
    return p;
}

PixelBuffer Canvas::maskInAlpha(const std::function<float(const Texel&)>& value) const {
    PixelBuffer p = PixelBuffer::make(m_size, m_size, 4, Depth::U8);
    for (int y = 0; y < m_size; ++y)
        for (int x = 0; x < m_size; ++x) {
            std::uint8_t* to = p.row<std::uint8_t>(y) + 4 * x;
            to[0] = to[1] = to[2] = 255;
            to[3] = toByte(value(at(x, y)));
        }
    return p;
}

PixelBuffer Canvas::packed(float occlusionStrength) const {
    PixelBuffer p = PixelBuffer::make(m_size, m_size, 3, Depth::U8);
    for (int y = 0; y < m_size; ++y)
        for (int x = 0; x < m_size; ++x) {
            std::uint8_t* to = p.row<std::uint8_t>(y) + 3 * x;
            to[0] = toByte(openAt(x, y, occlusionStrength));
            to[1] = toByte(at(x, y).roughness);
            to[2] = toByte(at(x, y).metalness);
        }
    return p;
}

Vec3 hex(unsigned rgb) {
    return {static_cast<float>((rgb >> 16) & 255) / 255, static_cast<float>((rgb >> 8) & 255) / 255,
            static_cast<float>(rgb & 255) / 255};
}

}  // namespace kettle::demo
