# Frames for the reader's tests, written by astropy (Debian's python3-astropy 5.2.1): /usr/bin/python3 make.py
# Each as NAME.fits.gz, their pixels in truth.json.gz.
import gzip
import inspect
import io
import json

import numpy as np
from astropy.io import fits

rng = np.random.default_rng(5)
W, H = 37, 19
truth = {}


def keep(name, hdus, pixels=None):
    raw = io.BytesIO()
    hdus.writeto(raw, output_verify="ignore")
    data = raw.getvalue()
    with open(f"{name}.fits.gz", "wb") as file:
        file.write(gzip.compress(data, mtime=0))
    if pixels is None:
        with fits.open(io.BytesIO(data)) as read:
            pixels = read[-1].data
    if pixels is not False:
        flat = np.asarray(pixels, dtype="float64").ravel()
        truth[name] = [None if np.isnan(v) else float(v) for v in flat]


for name, kind, low, high in [
    ("u8", "uint8", 0, 256),
    ("i16", "int16", -32768, 32768),
    ("i32", "int32", -(2**31), 2**31),
    ("i64", "int64", -(2**52), 2**52),
    ("u16", "uint16", 0, 65536),
]:
    pixels = rng.integers(low, high, (H, W)).astype(kind)
    hdu = fits.PrimaryHDU(pixels)
    if name == "u16":
        hdu.header["LONGSTR"] = "x" * 150 + "it's"
        hdu.header["HIERARCH our long keyword"] = 3.5
        hdu.header["OBJECT"] = "A / B"
    keep(name, hdu, pixels)
for name, kind in [("f32", "float32"), ("f64", "float64")]:
    pixels = rng.normal(100, 20, (H, W)).astype(kind)
    pixels[3, 4] = np.nan
    keep(name, fits.PrimaryHDU(pixels), pixels)
raw = rng.integers(-1000, 1000, (H, W)).astype("int16")
raw[2, 2] = -5
hdu = fits.PrimaryHDU(raw)
hdu.header["BSCALE"] = 0.25
hdu.header["BZERO"] = 12.5
hdu.header["BLANK"] = -5
scaled = raw * 0.25 + 12.5
scaled[raw == -5] = np.nan
keep("scaled", hdu, scaled)
pixels = rng.integers(0, 65536, (H, W)).astype("uint16")
table = fits.BinTableHDU.from_columns([fits.Column("A", "J", array=[1, 2, 3])])
keep("extension", fits.HDUList([fits.PrimaryHDU(), table, fits.ImageHDU(pixels)]), pixels)
pixels = rng.integers(0, 65536, (3, H, W)).astype("uint16")
keep("colour", fits.PrimaryHDU(pixels), pixels)

compressed = fits.hdu.compressed
tiles = "tile_shape" if "tile_shape" in inspect.signature(fits.CompImageHDU.__init__).parameters else "tile_size"
smooth = 1000 + 200 * np.sin(np.arange(H)[:, None] / 5) + rng.normal(0, 10, (H, W))
for how in ["RICE_1", "GZIP_1", "GZIP_2"]:
    for kind in ["uint8", "int16", "uint16", "int32"]:
        pixels = (smooth / 8 if kind == "uint8" else smooth).astype(kind)
        keep(f"{how}-{kind}", fits.CompImageHDU(pixels, compression_type=how), pixels)
    for kind in ["float32", "float64"]:
        pixels = smooth.astype(kind)
        pixels[5, 6] = 0
        for number, dither in enumerate(
            [compressed.NO_DITHER, compressed.SUBTRACTIVE_DITHER_1, compressed.SUBTRACTIVE_DITHER_2]
        ):
            hdu = fits.CompImageHDU(pixels, compression_type=how, quantize_method=dither, dither_seed=77)
            keep(f"{how}-{kind}-dither{number}", hdu)
        if how != "RICE_1":
            hdu = fits.CompImageHDU(pixels, compression_type=how, quantize_level=0)
            keep(f"{how}-{kind}-lossless", hdu, pixels)
pixels = smooth.astype("int16")
keep("RICE_1-tiles", fits.CompImageHDU(pixels, compression_type="RICE_1", **{tiles: [16, 7]}), pixels)
hdu = fits.CompImageHDU(np.ones((32, 32), "int16"), compression_type="HCOMPRESS_1", **{tiles: [16, 16]})
keep("HCOMPRESS_1", hdu, False)
with open("truth.json.gz", "wb") as file:
    file.write(gzip.compress(json.dumps(truth).encode(), mtime=0))
