package explore

import (
	"runtime/debug"
	"runtime/metrics"
	"sync/atomic"
)

// A proof keeps to the memory that it is given, and collects garbage as seldom as
// that allows: most of what it allocates lives for a turn.

const (
	leastHeap = 48 << 20 // what a proof of anything takes
	program   = 16 << 20 // what a process takes besides its heap
	slack     = 48 << 20 // garbage that is collected at once, where little lives
	leastLive = 25       // percent of what lives that may be garbage, where much does
)

// HeapFor is how many bytes of the memory of a process are for its heap.
func HeapFor(memory int) uint64 { return uint64(max(memory-program, leastHeap)) }

// LimitMemory keeps the process to so many bytes until the function that it gives
// is called.
func LimitMemory(memory int) (restore func()) {
	percent := debug.SetGCPercent(100)
	limit := debug.SetMemoryLimit(int64(HeapFor(memory)))
	collecting.Store(100)
	return func() {
		debug.SetGCPercent(percent)
		debug.SetMemoryLimit(limit)
	}
}

// Heap is how many bytes lived when garbage was last collected, and how many times
// it was.
func Heap() (live, round uint64) {
	s := []metrics.Sample{{Name: "/gc/heap/live:bytes"}, {Name: "/gc/cycles/total:gc-cycles"}}
	metrics.Read(s)
	return s[0].Value.Uint64(), s[1].Value.Uint64()
}

// collecting is the percentage of garbage that was set last.
var collecting atomic.Int64

// CollectBy sets how much garbage there may be beside so many bytes that live.
func CollectBy(live uint64) {
	percent := min(max(leastLive, slack*100/int64(live+1)), 400) / leastLive * leastLive
	if collecting.Swap(percent) != percent {
		debug.SetGCPercent(int(percent))
	}
}
