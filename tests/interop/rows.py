"""Reads and writes tables with Python's csv module.

    python3 rows.py read FILE             prints the rows as JSON
    python3 rows.py write FILE DELIMITER  writes the rows it is given as JSON on standard input
"""

import csv
import json
import sys

if sys.argv[1] == "read":
    with open(sys.argv[2], newline="", encoding="utf-8-sig") as file:
        print(json.dumps(list(csv.reader(file))))
else:
    with open(sys.argv[2], "w", newline="", encoding="utf-8") as file:
        csv.writer(file, delimiter=sys.argv[3]).writerows(json.load(sys.stdin))
