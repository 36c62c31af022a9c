"""The people who come to the classes."""
