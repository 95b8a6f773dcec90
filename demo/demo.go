// Package demo is the kiln-room design: a pottery studio whose members share
// two kilns.
package demo

import "embed"

// Files has the design in the folder kiln-room.
//
//go:embed kiln-room
var Files embed.FS
