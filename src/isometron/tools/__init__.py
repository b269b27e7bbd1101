"""What the pencil does: tools as generators over plain values in paper coordinates. No interface toolkit."""
