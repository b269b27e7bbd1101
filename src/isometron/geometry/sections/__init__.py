"""What a plane cuts out of solids: outlines of straight pieces and arcs of ellipses, true to the last digits."""
