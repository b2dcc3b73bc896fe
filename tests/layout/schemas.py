"""The shipped files fit the published schemas: schemas.py SOURCE_DIR MAP_MADE_FROM_A_SHEET"""
import json
import sys

from jsonschema import Draft202012Validator

source, made = sys.argv[1:]
checks = [("map", f"{source}/data/maps/pt-9.json"), ("job", f"{source}/data/demo/reduced-power.json"), ("map", made)]
faults = 0
for schema, path in checks:
    validator = Draft202012Validator(json.load(open(f"{source}/docs/schema/{schema}.schema.json", encoding="utf-8")))
    for error in validator.iter_errors(json.load(open(path, encoding="utf-8"))):
        faults += 1
        print(f"{path}: {'/'.join(map(str, error.path))}: {error.message[:200]}")
# A schema that lets anything through would prove nothing.
broken = json.load(open(f"{source}/data/maps/pt-9.json", encoding="utf-8"))
broken["elements"][0]["kind"] = "fairy"
schema = json.load(open(f"{source}/docs/schema/map.schema.json", encoding="utf-8"))
if Draft202012Validator(schema).is_valid(broken):
    faults += 1
    print("the map schema accepts an unknown kind of element")
sys.exit(1 if faults else 0)
