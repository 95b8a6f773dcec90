package value

import (
	"encoding/json"
	"fmt"
	"strconv"
	"strings"
	"unicode/utf8"
)

// Text is v as a template or String() prints it. Lists and records have no
// text of their own in the language; they print as Show does.
func Text(v Value) string {
	switch v := v.(type) {
	case String:
		return string(v)
	default:
		return Show(v)
	}
}

// Show prints v as the language would write it.
func Show(v Value) string {
	var out strings.Builder
	show(&out, v)
	return out.String()
}

// BriefArgs writes the arguments of a call, each at most width characters long.
func BriefArgs(list []Value, width int) string {
	parts := make([]string, len(list))
	for i, v := range list {
		parts[i] = Brief(v, width)
	}
	return "(" + strings.Join(parts, ", ") + ")"
}

// Brief is Show cut where it is longer than width characters: of a list it tells how many items it
// has, of a text how many letters, where there is room.
func Brief(v Value, width int) string {
	s := Show(v)
	if utf8.RuneCountInString(s) <= width {
		return s
	}
	if end := ending(v); end != "" && utf8.RuneCountInString(end) <= width*2/3 {
		return string([]rune(s)[:width-utf8.RuneCountInString(end)]) + end
	}
	r := []rune(s)
	tail := width / 3
	return string(r[:width-tail-1]) + "…" + string(r[len(r)-tail:])
}

// ending is how a value that is cut ends, with how long it is; "" where that is not told.
func ending(v Value) string {
	switch v := v.(type) {
	case *List:
		if v.Len() == 1 {
			return "… 1 item]"
		}
		return fmt.Sprintf("… %d items]", v.Len())
	case String:
		return fmt.Sprintf("…\" (%d letters)", utf8.RuneCountInString(string(v)))
	}
	return ""
}

func show(out *strings.Builder, v Value) {
	switch v := v.(type) {
	case Null:
		out.WriteString("null")
	case Bool:
		out.WriteString(strconv.FormatBool(bool(v)))
	case Number:
		out.WriteString(FormatNumber(float64(v)))
	case String:
		out.WriteString(quoted(string(v)))
	case Key:
		out.WriteString("k" + strconv.FormatUint(uint64(v), 10))
	case *List:
		out.WriteByte('[')
		for i, x := range v.Items() {
			if i > 0 {
				out.WriteString(", ")
			}
			show(out, x)
		}
		out.WriteByte(']')
	case *Record:
		showRecord(out, v)
	case interface{ String() string }:
		out.WriteString(v.String())
	}
}

// quoted is a text in quotes, with what cannot be seen as escapes.
func quoted(s string) string {
	var out strings.Builder
	enc := json.NewEncoder(&out)
	enc.SetEscapeHTML(false)
	enc.Encode(s)
	return strings.TrimSuffix(out.String(), "\n")
}

func showRecord(out *strings.Builder, r *Record) {
	if len(r.Names) == 0 {
		out.WriteString("{}")
		return
	}
	for i, n := range r.Names {
		if i == 0 {
			out.WriteString("{ ")
		} else {
			out.WriteString(", ")
		}
		out.WriteString(n + ": ")
		show(out, r.At(i))
	}
	out.WriteString(" }")
}

// JSON is v as encoding/json takes it; keys, functions and instances are strings.
func JSON(v Value) any {
	switch v := v.(type) {
	case Null:
		return nil
	case Bool:
		return bool(v)
	case Number:
		return float64(v)
	case String:
		return string(v)
	case *List:
		items := make([]any, 0, v.Len())
		for _, x := range v.Items() {
			items = append(items, JSON(x))
		}
		return items
	case *Record:
		fields := make(map[string]any, len(v.Names))
		for i, n := range v.Names {
			fields[n] = JSON(v.At(i))
		}
		return fields
	}
	return Show(v)
}
