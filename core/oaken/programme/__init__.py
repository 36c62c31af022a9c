"""Weeks: courses of classes, and whether they worked."""
