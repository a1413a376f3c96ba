"""Checks documents against a JSON Schema with python3-jsonschema.

    python3 documents.py SCHEMA DOCUMENTS

DOCUMENTS has one JSON document a line. Prints a list: true where the schema allows it, else what it complains of.
"""

import json
import sys

from jsonschema import Draft202012Validator

schema = json.load(open(sys.argv[1]))
Draft202012Validator.check_schema(schema)
validator = Draft202012Validator(schema)
answers = []
for line in open(sys.argv[2]):
    error = next(validator.iter_errors(json.loads(line)), None)
    answers.append(True if error is None else f"{error.json_path}: {error.message[:200]}")
print(json.dumps(answers))
