"""The rules and arithmetic of the job: values in, values out.

Nothing here reads a clock, a file, a database or a request. Arrays are laid out rows x days, a row
being one athlete on one channel, and every function that looks back is told the day it looks back from.
"""
