"""A road and its ground as they are drawn and exported."""
