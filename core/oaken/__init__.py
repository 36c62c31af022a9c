"""The rules of the job: from a class plan, its people and its room to time, density, heart load and energy.

Pure computation: no clock, no files, no network, no web framework. The exceptions are the command line
(`oaken.__main__`) and what it reads class files with (`oaken.class_file.reading`).
"""
