"""The printed page: composed in blocks, painted alike on screen, in PDF, in SVG and on paper."""
