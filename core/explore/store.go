package explore

import "sync/atomic"

// store keeps lists of numbers, many of which are small, in few bytes: each list in
// as many bytes a number as its largest takes. Nothing is moved when it grows, so that
// what was added may be read while more is.
type store struct {
	small  chunks[uint8]
	medium chunks[uint16]
	large  chunks[uint32]
}

// chunks are numbers of one width, in blocks of a fixed size.
type chunks[T uint8 | uint16 | uint32] struct {
	blocks blocks[[blockSize]T]
	next   uint32 // where the next list begins
}

// blocks are rooms of one size, which stay where they are when there are more. The
// list is read all the time, and kept off the cache lines (of at most 64 bytes) of
// what is written all the time.
type blocks[B any] struct {
	_    [56]byte
	list atomic.Pointer[[]*B]
	_    [56]byte
}

func (b *blocks[B]) at(n uint32) *B { return (*b.list.Load())[n] }

func (b *blocks[B]) len() int {
	if list := b.list.Load(); list != nil {
		return len(*list)
	}
	return 0
}

// more adds a block. Whoever reads the list of before finds what was in it.
func (b *blocks[B]) more() {
	var list []*B
	if b.len() > 0 {
		list = *b.list.Load()
	}
	b.list.Store(new(append(list, new(B))))
}

const (
	blockBits = 16
	blockSize = 1 << blockBits
	// a list is known by where it begins, and in the upper bits by its width.
	widthShift = 30
	placeMask  = 1<<widthShift - 1
)

// add keeps a list, and gives where it is.
func (s *store) add(list []uint32) uint32 {
	var top uint32
	for _, n := range list {
		top |= n
	}
	switch {
	case top < 1<<8:
		return s.small.add(list)
	case top < 1<<16:
		return 1<<widthShift | s.medium.add(list)
	}
	return 2<<widthShift | s.large.add(list)
}

// get reads a list, as long as the room for it.
func (s *store) get(at uint32, out []uint32) []uint32 {
	length := len(out)
	switch place := at & placeMask; at >> widthShift {
	case 0:
		read(s.small.at(place, length), out)
	case 1:
		read(s.medium.at(place, length), out)
	default:
		copy(out, s.large.at(place, length))
	}
	return out
}

// same says whether a list is kept at a place.
func (s *store) same(at uint32, list []uint32) bool {
	switch place := at & placeMask; at >> widthShift {
	case 0:
		return equal(s.small.at(place, len(list)), list)
	case 1:
		return equal(s.medium.at(place, len(list)), list)
	default:
		return equal(s.large.at(place, len(list)), list)
	}
}

// bytes is how much memory it takes.
func (s *store) bytes() int {
	return blockSize * (s.small.blocks.len() + 2*s.medium.blocks.len() + 4*s.large.blocks.len())
}

func (c *chunks[T]) add(list []uint32) uint32 {
	if len(list) > blockSize {
		panic("explore: a state of more than 65536 cells")
	}
	if rest := blockSize - int(c.next&(blockSize-1)); c.next>>blockBits >= uint32(c.blocks.len()) || rest < len(list) {
		c.next = uint32(c.blocks.len()) << blockBits
		c.blocks.more()
	}
	at := c.next
	block := c.blocks.at(at >> blockBits)[at&(blockSize-1):]
	for i, n := range list {
		block[i] = T(n)
	}
	c.next += uint32(len(list))
	return at
}

func (c *chunks[T]) at(at uint32, length int) []T {
	if length == 0 {
		return nil
	}
	from := at & (blockSize - 1)
	return c.blocks.at(at >> blockBits)[from : from+uint32(length)]
}

func read[T uint8 | uint16](from []T, to []uint32) {
	for i, n := range from {
		to[i] = uint32(n)
	}
}

func equal[T uint8 | uint16 | uint32](kept []T, list []uint32) bool {
	for i, n := range list {
		if uint32(kept[i]) != n {
			return false
		}
	}
	return true
}

// pages are values in blocks of a fixed size, which are not moved when there are
// more of them. One goroutine adds while others read what was added before.
type pages[T any] struct {
	blocks blocks[[pageSize]T]
	n      atomic.Int64
}

const (
	pageBits = 9
	pageSize = 1 << pageBits
)

func (p *pages[T]) len() int { return int(p.n.Load()) }

func (p *pages[T]) at(n uint32) *T { return &p.blocks.at(n >> pageBits)[n&(pageSize-1)] }

func (p *pages[T]) add(v T) {
	n := p.len()
	if n&(pageSize-1) == 0 {
		p.blocks.more()
	}
	*p.at(uint32(n)) = v
	p.n.Store(int64(n + 1))
}
