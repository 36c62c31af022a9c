"""Moving house: the whole studio out as one file, and in again here or elsewhere."""
