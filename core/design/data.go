package design

import (
	"bytes"
	"encoding/csv"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"path"
	"slices"
	"strings"
	"unicode/utf8"

	"lien/core/source"
	"lien/core/syntax"
	"lien/core/types"
	"lien/core/value"
)

// maxData is the most bytes that a data file may have.
const maxData = 16 << 20

// dataFile resolves const x: T = file("x.json"): JSON (RFC 8259) or CSV
// (RFC 4180) with a line of names, read and checked against T.
func (r *resolver) dataFile(k *Const, call *syntax.Call) {
	k.typ = types.Any
	if k.Syntax.Type == nil {
		r.errorf("wrong-type", k.Syntax.Name.Span(), "a file does not tell the type of %s", k.Label).Instead("write const %s: Ware[] = file(...)", k.Label)
		return
	}
	k.typ = r.typeOf(k.Syntax.Type)
	k.Unit.Expr = types.Unknown(call.Span())
	lit, ok := first(call.Args).(*syntax.TextLit)
	if !ok || len(call.Args) != 1 {
		r.errorf("wrong-type", call.Span(), "file takes the name of a data file").Instead(`write file("wares.json")`)
		return
	}
	if !isDataFile(lit.Value) {
		r.errorf("data-differs", lit.Span(), "%s: data files end in .json or .csv", lit.Value).Instead("name such a file")
		return
	}
	_, data, err := r.readBeside(k.Syntax.Start, lit.Value)
	if err == nil {
		k.Data, err = decode(lit.Value, data, k.typ)
	}
	if err != nil {
		r.errorf("data-differs", lit.Span(), "%s: %s", lit.Value, err).Instead("mend the file, or the type of %s", k.Label)
	}
}

func first(args []syntax.Expr) syntax.Expr {
	if len(args) == 0 {
		return nil
	}
	return args[0]
}

// readBeside reads a file that is named at a place, and must lie below the folder of the design; full is its path.
func (r *resolver) readBeside(at source.Pos, name string) (full string, data []byte, err error) {
	clean := path.Clean(name)
	if path.IsAbs(clean) || clean == ".." || strings.HasPrefix(clean, "../") || strings.Contains(name, "\\") {
		return "", nil, errors.New("this lies outside of the design's folder")
	}
	dir := "."
	shown := r.d.Set.File(at).Name
	for n := range r.seen {
		if r.show(n) == shown {
			dir = path.Dir(n)
		}
	}
	if r.fsys == nil {
		return "", nil, errors.New("there is no folder to read it from")
	}
	full = path.Join(dir, clean)
	data, err = source.Read(r.fsys, full, maxData)
	if err == nil {
		r.d.Sources = append(r.d.Sources, full)
	}
	if errors.Is(err, fs.ErrNotExist) {
		err = errors.New("there is no such file")
	}
	return full, bytes.TrimPrefix(data, []byte("\ufeff")), source.Reason(err)
}

func isDataFile(name string) bool {
	ext := strings.ToLower(path.Ext(name))
	return ext == ".json" || ext == ".csv"
}

func decode(name string, data []byte, t types.Type) (value.Value, error) {
	if !utf8.Valid(data) {
		return nil, fmt.Errorf("line %d: this is no UTF-8", 1+bytes.Count(data[:validEnd(data)], []byte("\n")))
	}
	if strings.EqualFold(path.Ext(name), ".csv") {
		return decodeCSV(data, t)
	}
	return DecodeJSON(data, t)
}

// validEnd is where the first bytes are that are no UTF-8 (RFC 3629).
func validEnd(data []byte) int {
	at := 0
	for at < len(data) {
		r, n := utf8.DecodeRune(data[at:])
		if r == utf8.RuneError && n == 1 {
			break
		}
		at += n
	}
	return at
}

// DecodeJSON reads a value of a type from JSON. The error says where it does not fit.
func DecodeJSON(data []byte, t types.Type) (value.Value, error) {
	dec := json.NewDecoder(bytes.NewReader(data))
	v, err := jsonValue(dec, 0)
	if err == nil {
		if _, more := dec.Token(); more != io.EOF {
			err = errors.New("there is more after the end of the value")
		}
	}
	if err == io.EOF {
		err = io.ErrUnexpectedEOF
	}
	if err != nil {
		line := 1 + bytes.Count(data[:min(int(dec.InputOffset()), len(data))], []byte("\n"))
		return nil, fmt.Errorf("line %d: %s", line, strings.TrimPrefix(err.Error(), "json: "))
	}
	return v, fitter{}.misfit(v, t, "the value")
}

func jsonValue(dec *json.Decoder, depth int) (value.Value, error) {
	if depth > 200 {
		return nil, errors.New("it nests too deep")
	}
	tok, err := dec.Token()
	if err == io.EOF {
		err = io.ErrUnexpectedEOF
	}
	if err != nil {
		return nil, err
	}
	switch tok := tok.(type) {
	case nil:
		return value.Null{}, nil
	case bool:
		return value.Bool(tok), nil
	case float64:
		return value.Number(tok + 0), nil
	case string:
		return value.String(tok), nil
	case json.Delim:
		if tok == '[' {
			return jsonList(dec, depth)
		}
	}
	return jsonRecord(dec, depth)
}

func jsonList(dec *json.Decoder, depth int) (value.Value, error) {
	var items []value.Value
	for dec.More() {
		v, err := jsonValue(dec, depth+1)
		if err != nil {
			return nil, err
		}
		items = append(items, v)
	}
	_, err := dec.Token()
	return value.NewList(items), err
}

func jsonRecord(dec *json.Decoder, depth int) (value.Value, error) {
	var names []string
	var values []value.Value
	seen := map[string]bool{}
	for dec.More() {
		tok, err := dec.Token()
		if err != nil {
			return nil, err
		}
		name := tok.(string)
		if seen[name] {
			return nil, fmt.Errorf("the field %s is there twice in one record", name)
		}
		seen[name] = true
		v, err := jsonValue(dec, depth+1)
		if err != nil {
			return nil, err
		}
		names, values = append(names, name), append(values, v)
	}
	_, err := dec.Token()
	return value.NewRecord(names, values), err
}

// Fits says whether a value is of a type.
func Fits(v value.Value, t types.Type) bool { return fitter{}.fits(v, t) }

// fitter tells which values are of which types. What was asked of a list or record is
// not asked again: each could be one of a union in several ways, on every level.
type fitter map[fitting]bool

type fitting struct {
	v value.Value
	t types.Type
}

func (k fitter) fits(v value.Value, t types.Type) bool {
	switch v.(type) {
	case *value.List, *value.Record:
	default:
		return k.ask(v, types.Under(t))
	}
	q := fitting{v, t}
	is, ok := k[q]
	if !ok {
		is = k.ask(v, types.Under(t))
		k[q] = is
	}
	return is
}

func (k fitter) ask(v value.Value, t types.Type) bool {
	switch t := t.(type) {
	case *types.List:
		l, ok := v.(*value.List)
		return ok && !slices.ContainsFunc(l.Items(), func(x value.Value) bool { return !k.fits(x, t.Elem) })
	case *types.Record:
		r, ok := v.(*value.Record)
		return ok && k.record(r, t)
	case *types.Union:
		return slices.ContainsFunc(t.Members, func(m types.Type) bool { return k.fits(v, m) })
	case types.Literal:
		return value.Equal(v, t.Value)
	case types.Basic:
		kind, ok := kinds[t]
		return ok && kind == v.Kind() || t == types.Any
	}
	return false
}

var kinds = map[types.Basic]value.Kind{types.Null: value.NullKind, types.Boolean: value.BoolKind, types.Number: value.NumberKind, types.String: value.StringKind}

func (k fitter) record(r *value.Record, t *types.Record) bool {
	for _, f := range t.Fields {
		if v := r.Get(f.Name); !(value.IsNull(v) && f.Optional) && !k.fits(v, f.Type) {
			return false
		}
	}
	return !slices.ContainsFunc(r.Names, func(n string) bool { _, ok := t.Field(n); return !ok })
}

// misfit says where a value is not of a type.
func (k fitter) misfit(v value.Value, t types.Type, where string) error {
	if k.fits(v, t) {
		return nil
	}
	switch u := types.Under(t).(type) {
	case *types.List:
		if l, ok := v.(*value.List); ok {
			for i, x := range l.Items() {
				if !k.fits(x, u.Elem) {
					return k.misfit(x, u.Elem, fmt.Sprintf("item %d of %s", i+1, where))
				}
			}
		}
	case *types.Record:
		if r, ok := v.(*value.Record); ok {
			return k.misfitField(r, u, where)
		}
	case *types.Union:
		if !value.IsNull(v) && types.Nullable(t) && len(types.Members(t)) == 2 {
			return k.misfit(v, types.NonNull(t), where)
		}
	}
	return fmt.Errorf("%s is %s, but %s is wanted", where, value.Brief(v, 40), types.Article(t))
}

func (k fitter) misfitField(r *value.Record, t *types.Record, where string) error {
	for _, f := range t.Fields {
		v := r.Get(f.Name)
		switch {
		case value.IsNull(v) && f.Optional || k.fits(v, f.Type):
		case value.IsNull(v) && !types.Nullable(f.Type):
			return fmt.Errorf("%s has no field %s", where, f.Name)
		default:
			return k.misfit(v, f.Type, f.Name+" of "+where)
		}
	}
	for _, n := range r.Names {
		if _, ok := t.Field(n); !ok {
			return fmt.Errorf("%s has a field %s, which the type has not", where, n)
		}
	}
	return nil
}

// decodeCSV reads records; the first line names their fields.
func decodeCSV(data []byte, t types.Type) (value.Value, error) {
	l, ok := types.Under(t).(*types.List)
	if !ok {
		return nil, errors.New("a .csv file holds a list of records")
	}
	rec, ok := types.Under(l.Elem).(*types.Record)
	if !ok {
		return nil, errors.New("a .csv file holds a list of records")
	}
	rd := csv.NewReader(bytes.NewReader(data))
	head, err := rd.Read()
	if err != nil {
		return nil, errors.New("the first line, with the names of the fields, is missing")
	}
	seen := map[string]bool{}
	for _, name := range head {
		if seen[name] {
			return nil, fmt.Errorf("line 1: the column %s is there twice", name)
		}
		seen[name] = true
	}
	var items []value.Value
	for {
		row, err := rd.Read()
		if err == io.EOF {
			return value.NewList(items), nil
		}
		if err != nil {
			return nil, err
		}
		line, _ := rd.FieldPos(0)
		v, err := csvRecord(head, row, rec)
		if err == nil {
			err = fitter{}.misfitField(v, rec, "the record")
		}
		if err != nil {
			return nil, fmt.Errorf("line %d: %w", line, err)
		}
		items = append(items, v)
	}
}

func csvRecord(head, row []string, t *types.Record) (*value.Record, error) {
	r := &value.Record{}
	for i, name := range head {
		f, ok := t.Field(name)
		if !ok {
			return nil, fmt.Errorf("there is a column %s, which the type has not", name)
		}
		v, err := csvValue(row[i], f.Read())
		if err != nil {
			return nil, fmt.Errorf("%s: %w", name, err)
		}
		r = r.With(name, v)
	}
	return r, nil
}

// csvValue reads a cell of a table as a type asks; an empty one is null where that is allowed.
func csvValue(s string, t types.Type) (value.Value, error) {
	if s == "" && types.Nullable(t) {
		return value.Null{}, nil
	}
	switch types.Widen(types.Under(types.NonNull(t))) {
	case types.Number:
		n, ok := value.ParseNumber(s)
		if !ok {
			return nil, fmt.Errorf("%q is not a number", s)
		}
		return value.Number(n), nil
	case types.Boolean:
		if s != "true" && s != "false" {
			return nil, fmt.Errorf("%q is neither true nor false", s)
		}
		return value.Bool(s == "true"), nil
	}
	return value.String(s), nil
}
