// Package output writes files so that nothing is lost: whole or not at all, never
// over what somebody else wrote, with links, modes and owners as they were. What
// is written anew carries a mark, by which it is known the next time (mark.go).
package output

import (
	"bytes"
	"crypto/sha256"
	"encoding/binary"
	"encoding/hex"
	"hash/crc32"
	"path/filepath"
)

// A file that was made here ends with a mark: a comment of its format with a digest of
// all that is before it. A file that was changed by hand since is no longer known.
const made = "made with lien: "

// digest is of the bytes before the mark, in 32 hexadecimal digits.
func digest(data []byte) string {
	sum := sha256.Sum256(data)
	return hex.EncodeToString(sum[:16])
}

// comment is what a comment of a format stands between.
type comment struct{ before, after string }

var (
	inMarkup  = &comment{"\n<!-- ", " -->\n"}
	inPDF     = &comment{"\n% ", "\n"}
	inProgram = &comment{"\n// ", "\n"}
	inStyles  = &comment{"\n/* ", " */\n"}
)

// commentOf is the comment that a file can end with: programs and styles are known by their names, all else by how it
// begins. Nil stands for none.
func commentOf(path string, data []byte) *comment {
	switch filepath.Ext(path) {
	case ".js", ".ts":
		return inProgram
	case ".css":
		return inStyles
	}
	switch {
	case bytes.HasPrefix(data, []byte("<")):
		return inMarkup
	case bytes.HasPrefix(data, []byte("%PDF")):
		return inPDF
	}
	return nil
}

// Mark gives a file its mark that is a program, a style sheet, HTML, an SVG, PDF or PNG picture, or a JSON object;
// others are left as they are.
func Mark(path string, data []byte) []byte {
	if at := len(data) - len(pngEnd); bytes.HasPrefix(data, pngHead) && bytes.HasSuffix(data, pngEnd) {
		return slicesOf(data[:at], pngText(made+digest(data[:at])), data[at:])
	}
	if c := commentOf(path, data); c != nil {
		return slicesOf(data, []byte(c.before+made+digest(data)+c.after))
	}
	if rest, ok := bytes.CutSuffix(data, jsonEnd); ok && bytes.HasPrefix(data, []byte("{")) {
		return slicesOf(rest, []byte(jsonLead+made+digest(data)+`"`), jsonEnd)
	}
	return data
}

// JSON has no comments: an object on lines of its own gets one member more.
var jsonEnd = []byte("\n}\n")

const jsonLead = `,
  "mark": "`

// IsMarked says whether a file was made here, and is as it was then.
func IsMarked(path string, data []byte) bool {
	at := bytes.LastIndex(data, []byte(made))
	if at < 0 {
		return false
	}
	lead, end := 0, []byte(nil) // of the mark before its words, and of what a file has after it in any case
	switch c := commentOf(path, data); {
	case bytes.HasPrefix(data, pngHead):
		lead, end = pngLead, pngEnd
	case c != nil:
		lead = len(c.before)
	case bytes.HasPrefix(data, []byte("{")):
		lead, end = len(jsonLead), jsonEnd
	}
	return at >= lead && bytes.Equal(Mark(path, slicesOf(data[:at-lead], end)), data)
}

func slicesOf(parts ...[]byte) []byte { return bytes.Join(parts, nil) }

// The parts of a PNG (ISO/IEC 15948, 5.2 and 11.3.4): it begins with eight bytes, ends
// with an empty chunk, and says in a text chunk which software made it.
var (
	pngHead = []byte("\x89PNG\r\n\x1a\n")
	pngEnd  = []byte("\x00\x00\x00\x00IEND\xaeB`\x82")
)

const (
	pngKeyword = "tEXtSoftware\x00"
	pngLead    = 4 + len(pngKeyword)
)

func pngText(text string) []byte {
	body := []byte(pngKeyword + text)
	chunk := binary.BigEndian.AppendUint32(nil, uint32(len(body)-4))
	chunk = append(chunk, body...)
	return binary.BigEndian.AppendUint32(chunk, crc32.ChecksumIEEE(body))
}
