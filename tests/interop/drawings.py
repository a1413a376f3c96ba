"""Measures workshop drawings with ezdxf and Python's XML parser.

    python3 drawings.py FILE…

Prints one JSON object a file, lengths in mm:
  .dxf  {"errors", "unit", "layers": {NAME: {"linetype", "width", "height", "left", "bottom", "entities"}}, "texts"}
  .svg  {"paper": [width, height], "groups": {ID: {"width", "height"}}, "texts"}
  .qdf  {"paper": [width, height], "lines": [[width of the stroke, x1, y1, x2, y2]], "boxes": [[x, y, width, height]]}, a PDF that qpdf has unpacked
"""

import json
import re
import sys
import xml.etree.ElementTree as xml

import ezdxf


def box(points):
    xs, ys = zip(*points)
    return {"left": min(xs), "bottom": min(ys), "width": max(xs) - min(xs), "height": max(ys) - min(ys)}


def dxf(file):
    document = ezdxf.readfile(file)
    audit = document.audit()
    layers, texts = {}, []
    for entity in document.modelspace():
        layers.setdefault(entity.dxf.layer, []).append(entity)
        if entity.dxftype() == "TEXT":
            texts.append(entity.dxf.text)
    measured = {}
    for name, entities in layers.items():
        assert document.layers.has_entry(name), f"layer {name} is not declared"
        lines = [entity for entity in entities if entity.dxftype() == "LINE"]
        ends = [tuple(end)[:2] for line in lines for end in (line.dxf.start, line.dxf.end)]
        linetype = document.layers.get(name).dxf.linetype
        assert document.linetypes.has_entry(linetype), f"line type {linetype} is not declared"
        measured[name] = {"linetype": linetype, "entities": len(entities), **(box(ends) if ends else {})}
    return {
        "errors": [str(error.message) for error in audit.errors + audit.fixes],
        "unit": ezdxf.units.decode(document.units),
        "layers": measured,
        "texts": texts,
    }


def mm(length):
    number, unit = re.fullmatch(r"([\d.]+)(mm|pt|)", length).groups()
    return float(number) * (1 if unit == "mm" else 25.4 / 72)


POINT = 25.4 / 72
SVG = "{http://www.w3.org/2000/svg}"


def svg(file):
    root = xml.parse(file).getroot()
    paper = [mm(root.get("width")), mm(root.get("height"))]
    left, top, width, height = map(float, root.get("viewBox").split())
    scale = (paper[0] / width, paper[1] / height)
    groups, texts = {}, ["".join(text.itertext()) for text in root.iter(f"{SVG}text")]
    for group in root.iter(f"{SVG}g"):
        ends = []
        for line in group.findall(f"{SVG}line"):
            ends += [(float(line.get(f"x{n}")) * scale[0], float(line.get(f"y{n}")) * scale[1]) for n in "12"]
        if ends and group.get("id"):
            groups[group.get("id")] = box(ends)
    return {"paper": paper, "groups": groups, "texts": texts}


def qdf(file):
    """Straight lines of a page as qpdf unpacks it, their widths and ends."""
    content = open(file, "rb").read().decode("latin-1")
    paper = [float(size) * POINT for size in re.search(r"/MediaBox \[\s*0\s+0\s+([\d.]+)\s+([\d.]+)", content).groups()]
    wide, lines, boxes, start = 0, [], [], None
    for numbers, operator in re.findall(r"^((?:[-\d.]+ )+)(w|m|l|re)$", content, re.M):
        values = [float(number) * POINT for number in numbers.split()]
        if operator == "w":
            wide = values[0]
        elif operator == "m":
            start = values
        elif operator == "re":
            boxes.append(values)
        else:
            lines.append([wide, *start, *values])
    return {"paper": paper, "lines": lines, "boxes": boxes}


READERS = {"dxf": dxf, "svg": svg, "qdf": qdf}
print(json.dumps([READERS[file.rsplit(".")[-1]](file) for file in sys.argv[1:]]))
