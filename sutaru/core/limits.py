"""What is taken from outside, and how much of it: one table. Beyond a limit a file or request is refused in a sentence.

``docs/limits.md`` tells them to users; a test compares the two.
"""

MB = 1 << 20

# Photos
PHOTO_BYTES = 400 * MB
PHOTO_PIXELS = 400_000_000
PHOTO_SECONDS = 10.0  # of processor time to read one: decode it, make its proxy; and as much to look at it
READING_BYTES = 800 * MB  # memory of the process that reads

# What lies beside a document
ASSET_BYTES = 8 * MB
DRAWING_BYTES = 200_000
MASK_PIXELS = 4_000_000
FONT_BYTES = 30 * MB
OVERLAY_BYTES = 120 * MB
OVERLAY_PIXELS = 40_000_000
ASSET_SECONDS = 10.0
DRAWING_SECONDS = 30.0  # to draw one, at the size that is asked for
DRAWING_PRINT_PIXELS = 12_960_000  # how large one must be drawn within that time to be kept: 12 x 12 in at 300 ppi

# Outlines, layouts, jobs
OUTLINE_LETTERS = 20_000  # of path data
OUTLINE_POINTS = 40_000  # of an outline once its curves are made of chords
FLATTENED_POINTS = 400_000  # of any path
OUTLINE_MM = 5000.0  # how far an outline may reach from its middle
JOB_BYTES = 64 * MB  # the JSON of a job in a bundle
BUNDLE_BYTES = 20 * 1024 * MB
TEMPLATE_BYTES = 200 * MB  # a template file
BUNDLE_SECONDS = 120.0  # to read what a bundle says, its photos aside

# Requests
REQUEST_BYTES = 8 * MB  # any body but a file's
STALL_SECONDS = 30.0  # without a byte of a body that is under way
PICTURE_SIDE = 6000  # px along the width of a picture that is asked for
PICTURES_AT_ONCE = 2  # painted at a time, so that memory stays level
LISTENERS = 100  # streams of news at once
