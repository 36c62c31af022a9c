"""Every format in and out, one registry: what a file is, whether it is right, and what it can be turned into."""

from oaken.exports.formats.convert import TARGETS, convert, targets_of
from oaken.exports.formats.known import FORMATS, Format, FormatReport, check, kind_of

__all__ = ["FORMATS", "TARGETS", "Format", "FormatReport", "check", "convert", "kind_of", "targets_of"]
