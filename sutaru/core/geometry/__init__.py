"""Pure maths on numpy arrays: matrices, quadrilaterals, outlines."""
