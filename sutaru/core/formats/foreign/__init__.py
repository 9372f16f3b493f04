"""Files of other programs read as sheets of a template: flat pictures, SVG, OpenRaster, PDF; and what could not be read."""
