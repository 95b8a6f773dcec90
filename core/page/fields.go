package page

import (
	"math"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"time"

	"lien/core/value"
)

// What fields hold (HTML, 4.10.5 to 4.10.11).

// Value is what an element holds, as its property value.
func (p *Page) Value(el *Element) string {
	switch el.Tag() {
	case "select":
		if o := at(p.ChosenOptions(el), 0); o != nil {
			return o.OptionValue()
		}
		return ""
	case "option":
		return el.OptionValue()
	case "input", "textarea":
		return el.sanitized()
	case "output":
		return el.Content()
	}
	return el.Get("value")
}

// sanitized is the value of a field after the value sanitization of its type.
func (el *Element) sanitized() string {
	v := el.Live().Value
	if el.Tag() == "textarea" {
		return strings.NewReplacer("\r\n", "\n", "\r", "\n").Replace(v)
	}
	switch kind := el.InputType(); kind {
	case "text", "search", "tel", "password":
		return oneLine(v)
	case "url":
		return strings.Trim(oneLine(v), htmlSpace)
	case "email":
		if !el.Has("multiple") {
			return strings.Trim(oneLine(v), htmlSpace)
		}
		parts := strings.Split(oneLine(v), ",")
		for i, s := range parts {
			parts[i] = strings.Trim(s, htmlSpace)
		}
		return strings.Join(parts, ",")
	case "number":
		if v = strings.TrimSuffix(v, "."); !validFloat.MatchString(v) {
			return ""
		}
		return v
	case "range":
		r, _ := el.Range()
		n, ok := parseFloat(v)
		if !ok {
			n = r.Low + math.Max(0, r.High-r.Low)/2
		}
		return value.FormatNumber(r.clamp(n))
	case "date", "time", "month", "week", "datetime-local":
		if _, ok := el.numbered(v); !ok {
			return ""
		}
		return v
	case "color":
		if simpleColor.MatchString(v) {
			return strings.ToLower(v)
		}
		return "#000000"
	case "checkbox", "radio":
		if w, ok := el.Attr("value"); ok {
			return w
		}
		return "on"
	case "submit", "reset", "button", "image", "hidden":
		if w, ok := el.Attr("value"); ok && v == "" {
			return w
		}
	case "file":
		if v != "" && !strings.HasPrefix(v, fakePath) {
			return fakePath + v
		}
	}
	return v
}

const (
	htmlSpace = " \t\n\f\r"
	fakePath  = `C:\fakepath\`
)

var (
	simpleColor = regexp.MustCompile(`^#[0-9a-fA-F]{6}$`)
	validFloat  = regexp.MustCompile(`^-?(\d+(\.\d+)?|\.\d+)([eE][-+]?\d+)?$`)
)

func oneLine(s string) string {
	if !strings.ContainsAny(s, "\r\n") {
		return s
	}
	return strings.NewReplacer("\r", "", "\n", "").Replace(s)
}

// parseFloat reads a valid floating-point number (HTML, 2.3.4.3).
func parseFloat(s string) (float64, bool) {
	if !validFloat.MatchString(s) {
		return 0, false
	}
	n, err := strconv.ParseFloat(s, 64)
	return n, err == nil && !math.IsInf(n, 0)
}

// Range is which numbers a field takes: of a slider, or a field for numbers or dates, which
// count in days, months, weeks or milliseconds (HTML, 4.10.5.3.7 and 4.10.5.3.8).
type Range struct {
	Low, High       float64
	HasLow, HasHigh bool
	Step            float64
	base            float64
	any             bool
}

// Range is the range of a field, and whether it has one.
func (el *Element) Range() (r Range, ok bool) {
	usual := 1.0
	switch el.InputType() {
	case "number", "date", "month", "week", "range":
	case "time", "datetime-local":
		usual = 60_000
	default:
		return r, false
	}
	r.Low, r.HasLow = el.numbered(el.Get("min"))
	r.High, r.HasHigh = el.numbered(el.Get("max"))
	r.Step = usual
	if r.any = el.is("step", "any"); !r.any {
		if n, ok := parseFloat(el.Get("step")); ok && n > 0 {
			r.Step = n
			if usual == 60_000 {
				r.Step = n * 1000
			}
		}
	}
	if r.HasLow {
		r.base = r.Low
	} else if n, ok := el.numbered(el.Get("value")); ok {
		r.base = n
	}
	if el.InputType() == "range" {
		if !r.HasLow {
			r.Low, r.HasLow = 0, true
		}
		if !r.HasHigh {
			r.High, r.HasHigh = 100, true
		}
	}
	return r, true
}

// Fits says whether a slider can be at a number, and which that it can be at is the nearest; false
// for what is no slider.
func (el *Element) Fits(n float64) (fits bool, nearest float64, ok bool) {
	r, ok := el.Range()
	if !ok || el.InputType() != "range" {
		return false, n, false
	}
	nearest = r.clamp(n)
	return math.Abs(nearest-n) < 1e-9, nearest, true
}

// clamp brings a number into the range and onto a step, the nearest one and of two the upper.
func (r Range) clamp(n float64) float64 {
	if r.High < r.Low {
		return r.Low
	}
	n = math.Min(math.Max(n, r.Low), r.High)
	if r.any {
		return n
	}
	k := math.Floor((n-r.base)/r.Step + 0.5)
	n = rounded(r.base + k*r.Step)
	if n > r.High+1e-9 {
		n = rounded(r.base + (k-1)*r.Step)
	}
	if n < r.Low-1e-9 {
		n = rounded(r.base + (k+1)*r.Step)
	}
	return n
}

// Around are the numbers on a step on both sides of a number, or twice the number that is on one.
func (r Range) Around(n float64) (below, above float64) {
	if r.onStep(n) {
		return n, n
	}
	k := math.Floor((n - r.base) / r.Step)
	return rounded(r.base + k*r.Step), rounded(r.base + (k+1)*r.Step)
}

func (r Range) onStep(n float64) bool {
	steps := (n - r.base) / r.Step
	return math.Abs(steps-math.Round(steps)) < 1e-7*math.Max(1, math.Abs(steps))
}

// rounded takes off what adding steps in binary puts on.
func rounded(n float64) float64 {
	m, err := strconv.ParseFloat(strconv.FormatFloat(n, 'g', 15, 64), 64)
	if err != nil {
		return n
	}
	return m
}

// numbered is a value of the element's type as a number.
func (el *Element) numbered(s string) (float64, bool) {
	switch el.InputType() {
	case "number", "range":
		return parseFloat(s)
	case "date":
		t, err := time.Parse("2006-01-02", s)
		return float64(t.Unix() / 86400), err == nil && len(s) == 10
	case "month":
		t, err := time.Parse("2006-01", s)
		return float64(t.Year()*12+int(t.Month())) - 1970*12 - 1, err == nil && len(s) == 7
	case "week":
		return weekNumber(s)
	case "time":
		return clock(s)
	case "datetime-local":
		day, hour, ok := strings.Cut(strings.Replace(s, " ", "T", 1), "T")
		t, err := time.Parse("2006-01-02", day)
		ms, good := clock(hour)
		return float64(t.Unix()*1000) + ms, ok && good && err == nil && len(day) == 10
	}
	return 0, false
}

// clock is a time of the day in milliseconds.
func clock(s string) (float64, bool) {
	for _, layout := range []string{"15:04", "15:04:05", "15:04:05.0", "15:04:05.00", "15:04:05.000"} {
		if t, err := time.Parse(layout, s); err == nil && len(s) == len(layout) {
			return float64(t.Hour()*3600+t.Minute()*60+t.Second())*1000 + float64(t.Nanosecond())/1e6, true
		}
	}
	return 0, false
}

// weekNumber counts the weeks since that of 1970-01-01.
func weekNumber(s string) (float64, bool) {
	year, week, ok := strings.Cut(s, "-W")
	y, err1 := strconv.Atoi(year)
	w, err2 := strconv.Atoi(week)
	if !ok || err1 != nil || err2 != nil || len(year) != 4 || len(week) != 2 || w < 1 || w > 53 {
		return 0, false
	}
	fourth := time.Date(y, 1, 4, 0, 0, 0, 0, time.UTC)
	monday := fourth.AddDate(0, 0, -(int(fourth.Weekday())+6)%7).AddDate(0, 0, 7*(w-1))
	if yy, ww := monday.ISOWeek(); yy != y || ww != w {
		return 0, false
	}
	return math.Floor(float64(monday.Unix()/86400+3) / 7), true
}

// written is a number as a value of the element's type.
func (el *Element) written(n float64) string {
	switch el.InputType() {
	case "date":
		return time.Unix(int64(n)*86400, 0).UTC().Format("2006-01-02")
	case "month":
		return time.Date(1970, time.Month(1+int(n)), 1, 0, 0, 0, 0, time.UTC).Format("2006-01")
	case "week":
		y, w := time.Unix(int64(n*7-3)*86400, 0).UTC().AddDate(0, 0, 3).ISOWeek()
		return strconv.Itoa(y) + "-W" + twoDigits(w)
	case "time":
		t := time.UnixMilli(int64(n)).UTC()
		if t.Second() == 0 && t.Nanosecond() == 0 {
			return t.Format("15:04")
		}
		return t.Format("15:04:05")
	case "datetime-local":
		return time.UnixMilli(int64(n)).UTC().Format("2006-01-02T15:04")
	}
	return value.FormatNumber(n)
}

func twoDigits(n int) string {
	if n < 10 {
		return "0" + strconv.Itoa(n)
	}
	return strconv.Itoa(n)
}

// count is an attribute that is a number of things.
func (el *Element) count(name string) (int, bool) {
	n, err := strconv.Atoi(strings.TrimSpace(el.Get(name)))
	return n, err == nil && n >= 0
}

// Lines is how many options a select shows at a time (HTML, 4.10.7, the display size).
func (el *Element) Lines() int {
	if n, ok := el.count("size"); ok && n > 0 {
		return n
	}
	if el.Has("multiple") {
		return 4
	}
	return 1
}

// Options are the options of a select or datalist, in order.
func (el *Element) Options() (list []*Element) {
	el.Within(func(o *Element) bool {
		if o.Tag() == "option" {
			list = append(list, o)
		}
		return true
	})
	return list
}

// OptionValue is the value of an option: its value attribute, or its text.
func (el *Element) OptionValue() string {
	if v, ok := el.Attr("value"); ok {
		return v
	}
	return strings.Join(strings.Fields(el.Content()), " ")
}

// ChosenOptions are the options of a select that are selected (HTML, 4.10.7, the selectedness
// setting algorithm): of one that shows a single option the last that says so, or else the first
// that is not disabled.
func (p *Page) ChosenOptions(el *Element) (list []*Element) {
	props, many := el.Live(), el.Has("multiple")
	options := el.Options()
	if !props.Dirty {
		for _, o := range options {
			if o.Has("selected") {
				list = append(list, o)
			}
		}
		if !many && len(list) > 1 {
			list = list[len(list)-1:]
		}
	} else {
		held := strings.Split(props.Value, between)
		for _, o := range options {
			if slices.Contains(held, o.OptionValue()) && (many || len(list) == 0) {
				list = append(list, o)
			}
		}
	}
	if o := el.choosable(options); len(list) == 0 && o != nil && (!props.Dirty || props.Typed) {
		list = []*Element{o}
	}
	return list
}

// between stands between the values of a select of which several options are chosen.
const between = "\x1f"

// held are the values of options as a select holds them.
func held(options []*Element) string {
	values := make([]string, len(options))
	for i, o := range options {
		values[i] = o.OptionValue()
	}
	return strings.Join(values, between)
}

// choosable is what a select with one line shows where none of its options is selected, or nil.
func (el *Element) choosable(options []*Element) *Element {
	if el.Has("multiple") || el.Lines() > 1 {
		return nil
	}
	for _, o := range options {
		if !o.Disabled() {
			return o
		}
	}
	return nil
}
