"""Makes frames of every spelling that is read, with what other programs say their pixels are.

    python3 pictures.py FOLDER

Writes the files, of each its pixels as float64 (NAME.f8: rows, columns, channels) and manifest.json:
{"read": {NAME: {"file", "height", "width", "channels"}}, "refused": {NAME: words},
"several": [NAME]}, the last with two pictures, of which the second is told.
Pixels of TIFF files are the arrays they were made from, those of PNG and FITS what Pillow and astropy read.
"""

import json
import subprocess
import sys
import warnings
from pathlib import Path

import numpy as np
import tifffile
from astropy.io import fits
from PIL import Image

warnings.simplefilter("ignore")
folder = Path(sys.argv[1])
HEIGHT, WIDTH = 45, 67
dice = np.random.default_rng(5)
rows, columns = np.mgrid[:HEIGHT, :WIDTH]
sky = 200 + dice.normal(0, 12, (HEIGHT, WIDTH))
for x, y in dice.uniform(5, 40, (8, 2)):
    sky += 9000 * np.exp(-((columns - x) ** 2 + (rows - y) ** 2) / 6)
manifest = {"read": {}, "refused": {}, "several": []}


def pixels(kind, colours):
    """The same field as numbers of a kind."""
    field = np.stack([sky, 0.7 * sky, 1.3 * sky], -1) if colours else sky
    scale, zero = {
        "u1": (1 / 60, 0),
        "i1": (1 / 90, -60),
        "u2": (5, 0),
        "i2": (1, -900),
        "u4": (2e5, 0),
        "i4": (1e5, -9e7),
        "u8": (1e9, 0),
        "i8": (1e9, -9e11),
    }.get(kind, (1e-4, 0))
    values = field * scale + zero
    if kind[0] in "ui":
        limits = np.iinfo(kind)
        values = np.clip(values, limits.min, limits.max)
    return values.astype(kind)


def keep(file, values):
    values = np.atleast_3d(np.asarray(values)).astype("<f8")
    (folder / f"{file}.f8").write_bytes(np.ascontiguousarray(values).tobytes())
    height, width, channels = values.shape
    manifest["read"][file] = {"height": height, "width": width, "channels": channels}


def tiff(name, values, stored=None, **words):
    file = f"{name}.tif"
    words.setdefault("photometric", "rgb" if np.ndim(values) == 3 else "minisblack")
    tifffile.imwrite(folder / file, values if stored is None else stored, **words)
    return file


def copied(name, source, *words):
    """The same picture, laid out by libtiff."""
    file = f"{name}.tif"
    subprocess.run(["tiffcp", *words, folder / source, folder / file], check=True, capture_output=True)
    return file


KINDS = ["u1", "i1", "u2", "i2", "u4", "i4", "u8", "i8", "f2", "f4", "f8"]
for kind in KINDS:
    for order in "<>":
        for layout, words in {"strips": {"rowsperstrip": 7}, "tiles": {"tile": (16, 32)}}.items():
            name = f"{kind}-{'little' if order == '<' else 'big'}-{layout}"
            grey, colours = pixels(kind, False), pixels(kind, True)
            keep(tiff(f"{name}-grey", grey, byteorder=order, **words), grey)
            keep(tiff(f"{name}-rgb", colours, byteorder=order, planarconfig="contig", **words), colours)
            planes = np.moveaxis(colours, -1, 0)
            keep(tiff(f"{name}-planes", colours, planes, byteorder=order, planarconfig="separate", **words), colours)
    keep(tiff(f"{kind}-bigtiff", grey, bigtiff=True), grey)

LAYOUTS = {
    "strips": ["-s", "-r", "9"],
    "tiles": ["-t", "-w", "32", "-l", "16"],
    "big-strips": ["-s", "-r", "9", "-B"],
    "big-tiles": ["-t", "-w", "32", "-l", "16", "-B"],
}
for kind in ["u1", "u2", "i2", "u4", "f4", "f8"]:
    packings = ["lzw", "zip", "packbits"] + (["zip:3", "lzw:3"] if kind[0] == "f" else ["zip:2", "lzw:2"])
    for colours in (False, True):
        values = pixels(kind, colours)
        source = tiff("source", values)
        for packing in packings:
            for layout, words in LAYOUTS.items():
                if packing.endswith(":3") and layout.startswith("big"):
                    continue
                name = f"{kind}-{'rgb' if colours else 'grey'}-{packing.replace(':', '-')}-{layout}"
                keep(copied(name, source, "-c", packing, *words), values)

for kind in ["u1", "u2", "f4"]:
    values = pixels(kind, False)
    source = tiff("source", values)
    for packing in ["none", "lzw", "zip", "packbits"]:
        keep(copied(f"{kind}-lowest-first-{packing}", source, "-c", packing, "-f", "lsb2msb", "-r", "9"), values)

values = pixels("u2", True)
across = np.swapaxes(values, 0, 1)
for turn, seen in enumerate(
    [
        values,
        values[:, ::-1],
        values[::-1, ::-1],
        values[::-1],
        across,
        np.rot90(values, -1),
        across[::-1, ::-1],
        np.rot90(values),
    ],
    1,
):
    keep(tiff(f"orientation-{turn}", values, extratags=[(274, "H", 1, turn, True)]), seen)

for kind in ["u1", "u2", "u4"]:
    values = pixels(kind, False)
    white = np.iinfo(kind).max - values
    keep(tiff(f"{kind}-white-is-zero", values, white, photometric="miniswhite"), values)

opaque = np.full((HEIGHT, WIDTH, 1), 65535, "u2")
values = pixels("u2", True)
for meaning, name in {1: "associated", 2: "unassociated", 0: "unnamed"}.items():
    both = np.concatenate([values, opaque], -1)
    keep(tiff(f"alpha-{name}", values, both, photometric="rgb", extrasamples=[meaning]), values)

grey = pixels("u2", False)
with tifffile.TiffWriter(folder / "preview-first.tif") as writer:
    writer.write(np.ascontiguousarray(pixels("u1", True)[::4, ::4]), photometric="rgb", subfiletype=1)
    writer.write(grey, photometric="minisblack")
keep("preview-first.tif", grey)

# Twelve bits: every row from a whole byte, highest bit first (TIFF 6.0, §8, of BitsPerSample).
narrow = (grey >> 4).astype("u2")
bits = (narrow[..., None] >> np.arange(11, -1, -1)) & 1
packed = np.packbits(bits.reshape(HEIGHT, -1).astype("u1"), axis=1)
entries = [(256, 4, WIDTH), (257, 4, HEIGHT), (258, 3, 12), (259, 3, 1), (262, 3, 1), (273, 4, 0), (277, 3, 1)]
entries += [(278, 4, HEIGHT), (279, 4, packed.size)]
start = 8 + 2 + 12 * len(entries) + 4
head = b"II*\0" + (8).to_bytes(4, "little") + len(entries).to_bytes(2, "little")
for tag, field, value in entries:
    value = start if tag == 273 else value
    head += b"".join(n.to_bytes(size, "little") for n, size in ((tag, 2), (field, 2), (1, 4), (value, 4)))
(folder / "twelve-bits.tif").write_bytes(head + bytes(4) + packed.tobytes())
keep("twelve-bits.tif", narrow)

PILLOW = {"L": ("u1", False), "I;16": ("u2", False), "RGB": ("u1", True), "F": ("f4", False), "I": ("i4", False)}
for mode, (kind, colours) in PILLOW.items():
    values = pixels(kind, colours)
    for packing in [None, "tiff_lzw", "tiff_adobe_deflate", "packbits"]:
        file = f"pillow-{mode.replace(';', '')}-{packing}.tif"
        Image.fromarray(values).save(folder / file, compression=packing)
        keep(file, values)

for mode in ["L", "LA", "RGB", "RGBA", "I;16"]:
    values = pixels("u2", False) if mode == "I;16" else np.asarray(Image.fromarray(pixels("u1", True)).convert(mode))
    file = f"pillow-{mode.replace(';', '')}.png"
    Image.fromarray(values).save(folder / file)
    read = np.atleast_3d(np.asarray(Image.open(folder / file)))
    keep(file, read[..., : 3 if mode.startswith("RGB") else 1])


def fitsFile(name, unit, **words):
    file = f"{name}.fits"
    units = fits.HDUList([fits.PrimaryHDU(), unit] if isinstance(unit, fits.CompImageHDU) else [unit])
    units.writeto(folder / file, overwrite=True, **words)
    with fits.open(folder / file) as read:
        values = read[-1].data
        keep(file, np.moveaxis(values, 0, -1) if values.ndim == 3 else values)


for kind in ["u1", "i2", "i4", "i8", "f4", "f8", "u2", "u4"]:
    fitsFile(f"fits-{kind}", fits.PrimaryHDU(pixels(kind, False)))
    fitsFile(f"fits-{kind}-planes", fits.PrimaryHDU(np.moveaxis(pixels(kind, True), -1, 0)))
scaled = fits.PrimaryHDU(pixels("f8", False))
scaled.scale("int16", bscale=1e-4, bzero=0.3)
fitsFile("fits-scaled", scaled)
for kind in ["u1", "i2", "i4", "u2"]:
    for packing in ["RICE_1", "GZIP_1", "GZIP_2"]:
        unit = fits.CompImageHDU(pixels(kind, False), compression_type=packing)
        fitsFile(f"fits-{kind}-{packing.replace('_', '-').lower()}", unit)

def several(file, first, *more):
    """A file of several pictures, with what picture 2 is."""
    if file.endswith(".tif"):
        with tifffile.TiffWriter(folder / file) as writer:
            for values in (first, *more):
                writer.write(values, photometric="minisblack")
    else:
        units = [fits.ImageHDU(values, name=f"CHIP{n}") for n, values in enumerate((first, *more), 1)]
        fits.HDUList([fits.PrimaryHDU(), *units]).writeto(folder / file, overwrite=True)
    keep(file, more[0])
    manifest["several"].append(file)


second = np.ascontiguousarray(grey[::-1])
several("two-pages.tif", grey, second)
several("two-chips.fits", grey, second)
# What says of each pixel how good it is, and a preview, are no second picture.
quality = fits.ImageHDU(pixels("u1", False), name="DQ")
fits.HDUList([fits.PrimaryHDU(grey), quality]).writeto(folder / "with-quality.fits", overwrite=True)
keep("with-quality.fits", grey)

inks = np.concatenate([pixels("u1", True), pixels("u1", False)[..., None]], -1)
premultiplied = np.concatenate([pixels("u2", True), opaque // 2], -1)
palette = {"photometric": "palette", "colormap": np.zeros((3, 256), "u2")}
REFUSED = {
    "associated.tif": ("multiplied with its transparency", premultiplied, {"photometric": "rgb", "extrasamples": [1]}),
    "white-floats.tif": ("count from white", pixels("f4", False), {"photometric": "miniswhite"}),
    "palette.tif": ("come from a palette", pixels("u1", False), palette),
    "inks.tif": ("printing inks", inks, {"photometric": "separated"}),
    "complex.tif": ("complex numbers", pixels("f4", False).astype("c8"), {"photometric": "minisblack"}),
}
for file, (words, values, written) in REFUSED.items():
    tifffile.imwrite(folder / file, values, **written)
    manifest["refused"][file] = words
Image.fromarray(pixels("u1", False)).save(folder / "squeezed.tif", compression="jpeg")
manifest["refused"]["squeezed.tif"] = "compression (JPEG)"
Image.fromarray(pixels("u1", False) > 100).save(folder / "one-bit.tif")
manifest["refused"]["one-bit.tif"] = "1 bit a pixel"
copied("zstandard", tiff("source", grey), "-c", "zstd")
manifest["refused"]["zstandard.tif"] = "compression (Zstandard)"
copied("float-differences-big", tiff("source", pixels("f4", False)), "-c", "zip:3", "-B")
manifest["refused"]["float-differences-big.tif"] = "in two ways"

(folder / "source.tif").unlink()
(folder / "manifest.json").write_text(json.dumps(manifest))
