package reshape

import "flag"

var update = flag.Bool("update", false, "write what comes of the cases into their files")
