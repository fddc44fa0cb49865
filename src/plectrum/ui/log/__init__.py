"""The Log screen: lessons, measuring, pictures, and the class."""
