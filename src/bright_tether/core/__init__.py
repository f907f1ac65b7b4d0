"""The statistics: arrays in, frozen results out. No interface code."""
