"""Six drop shadows on a card, as `scenes.rs` has them, drawn by Skia: CPU time of one picture, in ms.

Run by hand beside `cargo bench -p zolvet-core --bench scenes -- card`, with the package skia-python and
RAYON_NUM_THREADS=1, so that both count one thread. No test needs it.
"""

import time

import skia

# Offset down, sigma, opacity.
SIX = [(1, 1, 0.3), (3, 3, 0.25), (8, 8, 0.2), (14, 16, 0.2), (24, 28, 0.15), (40, 40, 0.15)]


def draw(filtered):
    surface = skia.Surface(1280, 800)
    canvas = surface.getCanvas()
    canvas.clear(0xFFE0D8C8)
    card = skia.RRect.MakeRectXY(skia.Rect.MakeXYWH(320, 180, 640, 400), 32, 32)
    for down, sigma, opacity in reversed(SIX):
        colour = skia.Color4f(16 / 255, 32 / 255, 24 / 255, opacity)
        paint = skia.Paint(AntiAlias=True, Color=colour)
        canvas.save()
        if filtered:
            shadow = skia.ImageFilters.DropShadowOnly(0, down, sigma, sigma, colour.toColor())
            paint.setImageFilter(shadow)
        else:
            paint.setMaskFilter(skia.MaskFilter.MakeBlur(skia.kNormal_BlurStyle, sigma))
            canvas.translate(0, down)
        canvas.drawRRect(card, paint)
        canvas.restore()
    canvas.drawRRect(card, skia.Paint(AntiAlias=True, Color=0xFFFBF9F3))
    return surface


def cpu_time(work):
    start = time.process_time()
    work()
    return (time.process_time() - start) * 1e3


for filtered in (False, True):
    draw(filtered)
    took = sorted(cpu_time(lambda: draw(filtered)) for _ in range(20 if filtered else 100))
    print(f"{'image filters' if filtered else 'mask filters'}: {took[len(took) // 2]:.1f} ms, {took[0]:.1f} at best")
