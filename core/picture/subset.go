package picture

import (
	"encoding/binary"
	"slices"

	"golang.org/x/image/font/sfnt"
)

// keptTables are those that a browser needs of a font (OpenType 1.9, "Required
// tables"), in the order of their tags. Hints and kerning are left out.
var keptTables = []string{"OS/2", "cmap", "glyf", "head", "hhea", "hmtx", "loca", "maxp", "name", "post"}

// subset is a TrueType font in which only the glyphs of the given runes have
// an outline. Glyphs keep their numbers.
func (f *face) subset(runes map[rune]bool) []byte {
	tables := tablesOf(f.data)
	keep := map[int]bool{0: true}
	for r := range runes {
		if at, err := f.font.GlyphIndex(&sfnt.Buffer{}, r); err == nil {
			keep[int(at)] = true
		}
	}
	long := binary.BigEndian.Uint16(tables["head"][50:]) == 1
	loca, glyf := tables["loca"], tables["glyf"]
	at := func(i int) int {
		if long {
			return int(binary.BigEndian.Uint32(loca[4*i:]))
		}
		return 2 * int(binary.BigEndian.Uint16(loca[2*i:]))
	}
	count := int(binary.BigEndian.Uint16(tables["maxp"][4:]))
	for i := 0; i < count; i++ { // glyphs are made of ones with lower and higher numbers
		if keep[i] {
			addParts(glyf[at(i):at(i+1)], keep, glyf, at)
		}
	}
	var outlines []byte
	places := make([]byte, 0, 4*(count+1))
	for i := range count {
		places = binary.BigEndian.AppendUint32(places, uint32(len(outlines)))
		if keep[i] {
			outlines = append(outlines, glyf[at(i):at(i+1)]...)
			for len(outlines)%4 != 0 {
				outlines = append(outlines, 0)
			}
		}
	}
	places = binary.BigEndian.AppendUint32(places, uint32(len(outlines)))
	head := slices.Clone(tables["head"])
	binary.BigEndian.PutUint16(head[50:], 1) // long offsets
	binary.BigEndian.PutUint32(head[8:], 0)
	post := slices.Clone(tables["post"][:32])
	binary.BigEndian.PutUint32(post, 0x00030000) // no glyph names
	tables["loca"], tables["glyf"], tables["head"], tables["post"] = places, outlines, head, post
	return assemble(tables)
}

func tablesOf(data []byte) map[string][]byte {
	tables := map[string][]byte{}
	for i := range int(binary.BigEndian.Uint16(data[4:])) {
		entry := data[12+16*i:]
		from, size := binary.BigEndian.Uint32(entry[8:]), binary.BigEndian.Uint32(entry[12:])
		tables[string(entry[:4])] = data[from : from+size]
	}
	return tables
}

// addParts keeps the glyphs that a glyph is put together from.
func addParts(glyph []byte, keep map[int]bool, glyf []byte, at func(int) int) {
	if len(glyph) < 10 || int16(binary.BigEndian.Uint16(glyph)) >= 0 {
		return
	}
	for p := 10; ; {
		flags, part := binary.BigEndian.Uint16(glyph[p:]), int(binary.BigEndian.Uint16(glyph[p+2:]))
		if !keep[part] {
			keep[part] = true
			addParts(glyf[at(part):at(part+1)], keep, glyf, at)
		}
		p += 4 + partSize(flags)
		if flags&0x20 == 0 { // MORE_COMPONENTS
			return
		}
	}
}

// partSize is how long the arguments and the scale of a part are, in bytes.
func partSize(flags uint16) int {
	n := 2
	if flags&0x1 != 0 { // ARG_1_AND_2_ARE_WORDS
		n = 4
	}
	switch {
	case flags&0x8 != 0: // WE_HAVE_A_SCALE
		n += 2
	case flags&0x40 != 0: // WE_HAVE_AN_X_AND_Y_SCALE
		n += 4
	case flags&0x80 != 0: // WE_HAVE_A_TWO_BY_TWO
		n += 8
	}
	return n
}

// assemble writes a font file of the kept tables.
func assemble(tables map[string][]byte) []byte {
	var tags []string
	for _, t := range keptTables {
		if tables[t] != nil {
			tags = append(tags, t)
		}
	}
	n := len(tags)
	entry, selector := 1, 0
	for entry*2 <= n {
		entry, selector = entry*2, selector+1
	}
	out := []byte{0, 1, 0, 0}
	for _, v := range []int{n, entry * 16, selector, n*16 - entry*16} {
		out = binary.BigEndian.AppendUint16(out, uint16(v))
	}
	var body []byte
	start := len(out) + 16*n
	for _, t := range tags {
		data := tables[t]
		out = append(out, t...)
		out = binary.BigEndian.AppendUint32(out, checksum(data))
		out = binary.BigEndian.AppendUint32(out, uint32(start+len(body)))
		out = binary.BigEndian.AppendUint32(out, uint32(len(data)))
		body = append(body, data...)
		for len(body)%4 != 0 {
			body = append(body, 0)
		}
	}
	return append(out, body...)
}

func checksum(data []byte) uint32 {
	var sum uint32
	for i := 0; i < len(data); i += 4 {
		var word [4]byte
		copy(word[:], data[i:])
		sum += binary.BigEndian.Uint32(word[:])
	}
	return sum
}
