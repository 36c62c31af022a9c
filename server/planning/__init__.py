"""Class plans as immutable revisions, and their forecasts."""
