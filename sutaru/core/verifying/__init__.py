"""Print files read back: held against the standard they name and the lab sheet they are for, each defect told with its place.

Structurally checked: what is said here is no certificate.
"""
