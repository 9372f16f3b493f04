"""The rules of the job and their computation: templates, photos, paper and pixels.

Knows nothing of HTTP, SQL, threads of a server or the environment. Stages, each importing only earlier ones:
measure, geometry, document, colour, photos, fitting, edits, words, paint, checks, press, formats.
"""
