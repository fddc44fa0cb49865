"""Playing a performance in the window: the clock, the loudspeaker, the transport."""
