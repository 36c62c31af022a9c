"""The rules of the job: from a class plan, its people and its room to time, density, heart load and energy.

Pure computation: no clock, no network, no web framework. Files are read by the command line (`oaken.__main__`), by what
it reads class files with (`oaken.schedule.class_file.reading`), and by the loaders of the data that ships with a room.
"""
