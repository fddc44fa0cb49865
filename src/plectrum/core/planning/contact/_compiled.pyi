from plectrum.core.planning.contact.in_numpy import own_costs as own_costs
from plectrum.core.planning.contact.in_numpy import settle as settle
