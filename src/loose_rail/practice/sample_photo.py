"""Made-up photographs of a made-up board, drawn by program: for the demo and the pictures of it."""

from __future__ import annotations

import io

from PIL import Image, ImageDraw, ImageFilter

SIZE = (1600, 1200)
CANS = ((430, 420, 95), (660, 430, 95), (880, 300, 60), (1010, 300, 60), (900, 520, 70))
CHIPS = ((250, 760, 150, 90), (560, 800, 210, 120), (1220, 640, 170, 100))
BOARD, COPPER = (58, 92, 66), (196, 162, 88)
CAN, TOP, VENT = (46, 52, 78), (186, 190, 198), (120, 124, 132)
CRUST = (150, 118, 62)


def sample_photo(domed: bool) -> bytes:
    """A JPEG of a board with its capacitors; one of them domed and crusted, or all of them flat."""
    image = Image.new("RGB", SIZE, (86, 84, 80))
    draw = ImageDraw.Draw(image)
    draw.rectangle((90, 90, 1510, 1110), fill=BOARD)
    for k in range(16):
        y = 140 + 60 * k
        draw.line((120, y, 500 + 37 * (k % 5), y), fill=(72, 110, 80), width=7)
        draw.line((900 + 23 * (k % 7), y, 1480, y), fill=(72, 110, 80), width=5)
    for x, y, wide, high in CHIPS:
        draw.rectangle((x, y, x + wide, y + high), fill=(34, 34, 36))
        for k in range(8):
            draw.rectangle(
                (x + 8 + k * wide // 8, y + high, x + 18 + k * wide // 8, y + high + 22),
                fill=(190, 190, 190),
            )
    for number, (x, y, radius) in enumerate(CANS):
        _can(draw, x, y, radius, domed and number == 2)
    for x in range(1180, 1460, 34):
        draw.rectangle((x, 960, x + 22, 1060), fill=(222, 218, 206))
        draw.ellipse((x + 3, 1000, x + 19, 1016), fill=COPPER)
    made = io.BytesIO()
    image.filter(ImageFilter.GaussianBlur(1.2)).save(made, "JPEG", quality=88)
    return made.getvalue()


def _can(draw: ImageDraw.ImageDraw, x: int, y: int, radius: int, domed: bool) -> None:
    draw.ellipse((x - radius, y - radius, x + radius, y + radius), fill=CAN)
    inner = round(radius * 0.86)
    draw.ellipse((x - inner, y - inner, x + inner, y + inner), fill=TOP)
    for dx, dy in ((1, 0), (0, 1)):
        length = round(inner * 0.7)
        draw.line(
            (x - dx * length, y - dy * length, x + dx * length, y + dy * length), fill=VENT, width=5
        )
    if domed:
        bulge = round(radius * 0.5)
        draw.ellipse((x - bulge, y - bulge, x + bulge, y + bulge), fill=(214, 216, 220))
        draw.polygon([(x - 20, y + 4), (x + 24, y - 10), (x + 30, y + 22), (x - 6, y + 30)], CRUST)
