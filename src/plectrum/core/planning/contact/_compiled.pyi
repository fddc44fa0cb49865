from plectrum.core.planning.contact.in_numpy import settle as settle
