"""The driven line: computed between the edges of a road."""
