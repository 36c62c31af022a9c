"""A class as one file: plan, room, people, own entries and house rules; its checks, its reading, its schema."""

from oaken.schedule.class_file.document import FORMAT, ClassFile, check_class, check_search, json_schema, read_class

__all__ = [
    "FORMAT",
    "ClassFile",
    "check_class",
    "check_search",
    "json_schema",
    "read_class",
]
