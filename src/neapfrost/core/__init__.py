"""The lap model: pure computation. Knows nothing of files, documents, the store or the web."""
