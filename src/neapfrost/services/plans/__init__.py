"""Plans and their parts as they are kept, edited, undone and exchanged."""
