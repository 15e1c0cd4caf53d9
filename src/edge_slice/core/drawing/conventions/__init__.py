"""What the trade draws otherwise than it is modelled: doors open, stairs with break and arrow, crossed shafts."""
