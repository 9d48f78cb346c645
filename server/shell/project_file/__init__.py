"""A whole project as one file in open formats, out and in again.

In this order: ``parts`` (what is in it), ``named`` (JSON that names rows), ``rows`` (one row out and in), ``steps`` (the trail's
inverses), ``numbers``, ``schemas``; ``writing`` takes a project out; ``opening`` looks into a file, ``bringing`` brings it in.
"""
