package design

import (
	"errors"
	"fmt"
	"io/fs"
	"path"
	"regexp"
	"slices"
	"sort"
	"strings"

	"lien/core/finding"
	"lien/core/source"
	"lien/core/syntax"
	"lien/core/types"
)

// Load reads the design at name, a .lien file or a folder of them, from fsys.
// show turns a path in fsys into the name that messages use. The error tells
// that there is nothing to read; mistakes in the design are its Findings.
func Load(fsys fs.FS, name string, show func(string) string) (*Design, error) {
	r := newResolver(fsys, show)
	names, err := Files(fsys, name, show)
	if err != nil {
		return nil, err
	}
	if err := r.read(names); err != nil {
		return nil, err
	}
	r.resolve()
	return r.d, nil
}

// Parse resolves one text as a whole design, for texts that are in no file.
func Parse(name, text string) *Design {
	r := newResolver(nil, nil)
	r.add(syntax.Parse(r.d.Set.Add(name, text)))
	r.resolve()
	return r.d
}

func newResolver(fsys fs.FS, show func(string) string) *resolver {
	r := &resolver{
		d: &Design{Set: source.NewSet()}, fsys: fsys, show: show, seen: map[string]bool{},
		types: map[string]*TypeName{}, top: map[string]types.Symbol{}, components: map[string]*Component{}, contexts: map[string]*Component{}, channels: map[string]*Channel{}, forms: &formOwners{}, services: map[string]*Service{}, starts: map[string]*Start{}, told: newTold(),
	}
	r.reporter = r.report
	return r
}

// resolver turns trees into a Design.
type resolver struct {
	d          *Design
	fsys       fs.FS
	show       func(string) string
	seen       map[string]bool // the files read so far
	total      int             // their bytes
	types      map[string]*TypeName
	top        map[string]types.Symbol // constants and functions
	components map[string]*Component
	contexts   map[string]*Component
	channels   map[string]*Channel
	services   map[string]*Service
	starts     map[string]*Start
	renamed    map[string]string // names of the folder that is read, which are others here
	forms      *formOwners
	reporter   func(*finding.Finding) // report, for its checkers
	told
}

// Files names the .lien files of the design at name, sorted: the file, or those in
// the folder. The error tells that there are none.
func Files(fsys fs.FS, name string, show func(string) string) ([]string, error) {
	info, err := fs.Stat(fsys, name)
	if err != nil {
		return nil, readError(show(name), err)
	}
	if !info.IsDir() {
		if path.Ext(name) != ".lien" {
			return nil, fmt.Errorf("%s: a design is a file whose name ends in .lien, or a folder of them", show(name))
		}
		return []string{name}, nil
	}
	entries, err := fs.ReadDir(fsys, name)
	if err != nil {
		return nil, readError(show(name), err)
	}
	var names []string
	for _, e := range entries {
		if !e.IsDir() && strings.HasSuffix(e.Name(), ".lien") {
			names = append(names, path.Join(name, e.Name()))
		}
	}
	if len(names) == 0 {
		return nil, fmt.Errorf("%s: there is no .lien file in this folder; `lien new %s` writes a first one", show(name), show(name))
	}
	sort.Strings(names)
	return names, nil
}

// ReadText reads one of these files.
func ReadText(fsys fs.FS, name string, show func(string) string) ([]byte, error) {
	text, err := source.Read(fsys, name, syntax.MaxSize)
	if err != nil {
		return nil, readError(show(name), err)
	}
	return text, nil
}

func readError(name string, err error) error {
	var large *source.TooLarge
	switch {
	case errors.Is(err, fs.ErrNotExist):
		return fmt.Errorf("%s: there is no such file or folder", name)
	case errors.Is(err, fs.ErrPermission):
		return fmt.Errorf("%s: this may not be read; check its permissions", name)
	case errors.Is(err, source.ErrOutside):
		return fmt.Errorf("%s: %w", name, source.ErrOutside)
	case errors.As(err, &large):
		return fmt.Errorf("%s: a design file has at most %d MB, but this has more; split it into several in one folder", name, large.Max>>20)
	}
	return fmt.Errorf("%s: this cannot be read: %w", name, source.Reason(err))
}

// maxTotal is the most bytes that all files of a design may have.
const maxTotal = 4 * syntax.MaxSize

// read adds files, and then the folders that they use.
func (r *resolver) read(names []string) error {
	var sources []*source.File
	for _, name := range names {
		if r.seen[name] {
			continue
		}
		r.seen[name] = true
		text, err := ReadText(r.fsys, name, r.show)
		if err != nil {
			return err
		}
		if r.total += len(text); r.total > maxTotal {
			return fmt.Errorf("%s: with this file the design has more than %d MB, which is the most", r.show(name), maxTotal>>20)
		}
		file := r.d.Set.Add(r.show(name), string(text))
		file.Path = name
		sources = append(sources, file)
		r.d.Sources = append(r.d.Sources, name)
	}
	files := parsed(sources, r.renamed)
	for _, file := range files {
		r.add(file)
	}
	for _, file := range files {
		for _, decl := range file.Decls {
			if use, ok := decl.(*syntax.Use); ok {
				r.use(path.Dir(file.Source.Path), use)
			}
		}
	}
	return nil
}

// parsed reads the texts of files side by side.
func parsed(sources []*source.File, names map[string]string) []*syntax.File {
	files := make([]*syntax.File, len(sources))
	beside(len(sources), func(next func() (int, bool)) {
		for i, ok := next(); ok; i, ok = next() {
			files[i] = syntax.ParseAs(sources[i], names)
		}
	})
	return files
}

func (r *resolver) add(file *syntax.File) {
	r.d.Files = append(r.d.Files, file)
	r.d.Findings = append(r.d.Findings, file.Findings...)
}

// use reads the files of another folder.
func (r *resolver) use(dir string, use *syntax.Use) {
	var names []string
	err := error(source.ErrOutside)
	if !path.IsAbs(use.Path.Value) {
		names, err = Files(r.fsys, path.Join(dir, use.Path.Value), r.show)
	}
	outer := r.renamed
	r.renamed = map[string]string{}
	for _, as := range use.As {
		r.renamed[as.Name.Text] = as.As.Text
	}
	if err == nil {
		err = r.read(names)
	}
	r.renamed = outer
	switch {
	case errors.Is(err, source.ErrOutside):
		r.errorf("not-in-scope", use.Path.Span(), "this folder cannot be used: %s", err).Instead("name a folder around both with --root, or move it into this one")
	case err != nil:
		r.errorf("not-in-scope", use.Path.Span(), "this folder cannot be used: %s", err).Instead("write the path from this file's folder")
	}
}

func (r *resolver) report(f *finding.Finding) { r.d.Findings = append(r.d.Findings, f) }

func (r *resolver) errorf(rule string, at source.Span, format string, args ...any) *finding.Finding {
	f := finding.New(rule, finding.Error, at, format, args...)
	r.report(f)
	return f
}

func (r *resolver) warnf(rule string, at source.Span, format string, args ...any) *finding.Finding {
	f := finding.New(rule, finding.Warning, at, format, args...)
	r.report(f)
	return f
}

func (r *resolver) notef(rule string, at source.Span, format string, args ...any) *finding.Finding {
	f := finding.New(rule, finding.Note, at, format, args...)
	r.report(f)
	return f
}

// resolve works from the outside in: what is declared, then types, members,
// bodies and views, and last what speaks about the whole.
func (r *resolver) resolve() {
	r.decls(r.declare)
	for _, t := range r.d.Types {
		t.Under = r.typeOf(t.Syntax.Type)
	}
	r.selfMadeTypes()
	r.world()
	for _, c := range r.d.Components {
		r.members(c)
	}
	for _, c := range r.d.Consts {
		c.Type()
	}
	for _, f := range r.d.Functions {
		f.Type()
	}
	r.insides()
	for _, c := range r.d.Components {
		r.classed(c)
	}
	r.styles()
	r.circles()
	r.decls(func(d syntax.Decl) {
		if s, ok := d.(*syntax.Start); ok {
			r.start(s)
		}
	})
	r.decls(func(d syntax.Decl) {
		switch d := d.(type) {
		case *syntax.Law:
			r.law(d)
		case *syntax.Scenario:
			r.scenario(d)
		}
	})
	r.d.Findings = finding.Distinct(r.trusted())
}

// trusted are the findings less those that follow from a file whose blocks
// could not be told apart: there, only what could not be read is told.
func (r *resolver) trusted() []*finding.Finding {
	if !slices.ContainsFunc(r.d.Files, func(f *syntax.File) bool { return f.Unclosed }) {
		return r.d.Findings
	}
	return slices.DeleteFunc(r.d.Findings, func(f *finding.Finding) bool { return f.Rule != "unreadable" })
}

func (r *resolver) decls(visit func(syntax.Decl)) {
	for _, f := range r.d.Files {
		for _, d := range f.Decls {
			visit(d)
		}
	}
}

// declare notes a declaration; starts, laws and scenarios wait until all that
// they can speak of is known.
func (r *resolver) declare(decl syntax.Decl) {
	switch d := decl.(type) {
	case *syntax.TypeDecl:
		r.declareType(d)
	case *syntax.ConstDecl:
		c := &Const{Label: d.Name.Text, Syntax: d, design: r.d, check: r.checkConst}
		if r.declareTop(d.Name, c) {
			r.d.Consts = append(r.d.Consts, c)
		}
	case *syntax.Derives:
		f := &Function{Label: d.Name.Text, Syntax: d, check: r.checkFunction}
		if r.declareTop(d.Name, f) {
			r.d.Functions = append(r.d.Functions, f)
		}
	case *syntax.Component:
		r.declareComponent(d)
	case *syntax.Channel:
		r.declareChannel(d)
	case *syntax.Service:
		r.declareService(d)
	}
}

func (r *resolver) twice(name *syntax.Word, what string, other source.Pos) {
	f := r.errorf("declared-twice", name.Span(), "there are two %s named %s", strings.ReplaceAll(what+"s", "constant or", "constants or"), name.Text).
		See(other, "the other %s", name.Text).Instead("give one of them another name")
	if a, b := r.d.Set.File(name.Start), r.d.Set.File(other); path.Dir(a.Path) != path.Dir(b.Path) {
		f.Instead("give one of them another name; where its folder is used, that is: use \"...\" with %s as %s", name.Text, otherName(name.Text))
	}
}

// otherName is another name of the same kind.
func otherName(name string) string {
	switch {
	case strings.Contains(name, "-"):
		return "other-" + name
	case name == upperFirst(name):
		return "Other" + name
	}
	return "other" + upperFirst(name)
}

func (r *resolver) declareTop(name *syntax.Word, s types.Symbol) bool {
	if o := r.top[name.Text]; o != nil {
		r.twice(name, "constant or function", o.Pos())
		return false
	}
	r.top[name.Text] = s
	return true
}

// unfitName reports the name of a component that could be none of a custom element (HTML, 4.13.3).
func (r *resolver) unfitName(name *syntax.Word) {
	to := kebab(name.Text)
	message := "a component's name is written in lower case: %s"
	if !strings.Contains(name.Text, "-") {
		message = "a component's name has a hyphen, as HTML asks of custom elements: %s"
	}
	f := r.errorf("without-hyphen", name.Span(), message, name.Text).Instead("write %s, or another name with a hyphen, everywhere", to)
	if slices.ContainsFunc(r.d.Set.Files(), func(f *source.File) bool { return declaresOther(f, name) }) {
		return // not every use is one of the component
	}
	f.Fix = &finding.Fix{Title: "write " + to}
	for _, file := range r.d.Set.Files() {
		f.Fix.Edits = append(f.Fix.Edits, syntax.Rename(file, name.Text, to)...)
	}
}

// declares are words, and what else stands before a name, where that is declared, other than as a component.
var declares = regexp.MustCompile(`(?:\b(?:holds|aside|takes|shares|derives|const|action|timer|emits|function|each|at|context|type|service|channel|offers|as|named)\s+|[(,]\s*)$`)

// declaresOther says whether something else in a file has the name of a component.
func declaresOther(file *source.File, name *syntax.Word) bool {
	return slices.ContainsFunc(syntax.Occurrences(file, name.Text), func(at source.Span) bool {
		end := file.Offset(at.Start)
		return at.Start != name.Span().Start && declares.MatchString(file.Text[max(0, end-40):end])
	})
}

// kebab is a name as custom elements have: kiln-row for kilnRow, and kiln-part for Kiln.
func kebab(name string) string {
	var out strings.Builder
	for i, c := range name {
		switch {
		case c == '_':
			out.WriteByte('-')
			continue
		case 'A' <= c && c <= 'Z' && i > 0 && !strings.HasSuffix(out.String(), "-"):
			out.WriteByte('-')
		}
		out.WriteString(strings.ToLower(string(c)))
	}
	if !strings.Contains(out.String(), "-") {
		out.WriteString("-part")
	}
	return out.String()
}

func (r *resolver) declareComponent(d *syntax.Component) {
	name := d.Name.Text
	if d.Context {
		if o := r.contexts[name]; o != nil {
			r.twice(d.Name, "context", o.Syntax.Name.Start)
			return
		}
		c := &Component{Name: name, Syntax: d, byName: map[string]*Member{}, IsContext: true}
		r.contexts[name] = c
		r.d.Components = append(r.d.Components, c)
		return
	}
	switch o := r.components[name]; {
	case o != nil:
		r.twice(d.Name, "component", o.Syntax.Name.Start)
		return
	case !strings.Contains(name, "-") || name != strings.ToLower(name):
		r.unfitName(d.Name)
	}
	c := &Component{Name: name, Syntax: d, byName: map[string]*Member{}}
	r.components[name] = c
	r.d.Components = append(r.d.Components, c)
}
