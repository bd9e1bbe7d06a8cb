"""Framework agreements as they are worked: planned call-offs, the pace, every document against one."""
