package web

import (
	"io/fs"
	"maps"
	"path"
	"regexp"
	"slices"
	"strings"

	"lien/core/design"
	"lien/core/html"
)

// What a design needs of the runtime. The rest is left out: what it does not name is not exported, and for whole
// concerns that it does not have stand the modules in the folder "without", which do nothing.

// needs are the concerns of a design, by the runtime's modules for them.
func needs(d *design.Design, o Options) map[string]bool {
	need := map[string]bool{}
	when := func(is bool, name string) { need[name] = need[name] || is }
	when(len(d.Services) > 0, "services.js")
	when(asksOverHTTP(d, o), "sending.js")
	when(len(d.Services) > 0, "timers.js") // what stands in takes its time
	for _, c := range d.Components {
		when(len(d.StylesOf(c)) > 0, "styles.js")
		when(c.Field() != nil, "forms.js")
		when(c.Field() != nil, "controls.js")
		when(slices.ContainsFunc(c.Slots, fillable), "filled.js")
		when(len(c.Follows) > 0, "follows.js")
		for _, m := range c.Members {
			when(m.Kind == design.Gathered, "gathers.js")
			when(m.Kind == design.Timer, "timers.js")
			when(len(m.Hears) > 0, "hearing.js")
		}
	}
	design.Visitor{
		Node: func(n design.Node) {
			switch n := n.(type) {
			case *design.Element:
				when(n.Tag == "form", "forms.js")
				when(n.Tag == "svg" || n.Tag == "math", "spaces.js")
				for _, a := range n.Attrs {
					when(html.IsAddress(a.Name), "addresses.js")
				}
				for _, h := range n.Handlers {
					when(h.Name == "outside", "elsewhere.js")
				}
			case *design.Use:
				when(len(n.Classes)+len(n.Marks) > 0, "styles.js")
			}
		},
		Stmt: func(s design.Stmt) {
			switch s.(type) {
			case *design.Open, *design.Leave:
				when(true, "openings.js")
			}
		},
	}.Design(d)
	return need
}

// fillable says whether a page may fill a slot with a function of what the slot hands out.
func fillable(s *design.SlotPlace) bool { return len(s.Names) > 0 && s.Name != "" }

// without is the folder of what stands for modules that are left out.
const without = "without"

// module is the path of the module that a design gets for one of the runtime.
func (m modules) module(name string) string {
	if m.needs[name] {
		return name
	}
	if _, err := fs.Stat(runtimeFiles(), path.Join(without, name)); err != nil {
		return name // which every design needs
	}
	return path.Join(without, name)
}

var (
	exported = regexp.MustCompile(`(?m)^export \{ (.*) \} from (.*);$`)
	shared   = regexp.MustCompile(`\blien\.(\w+)`)
)

// exports are those of the runtime's lien.js that some modules name, and what else is asked for.
func exports(files map[string]string, more ...string) string {
	named := map[string]bool{}
	for _, name := range more {
		named[name] = true
	}
	for _, text := range files {
		for _, found := range shared.FindAllStringSubmatch(text, -1) {
			named[found[1]] = true
		}
	}
	all, err := fs.ReadFile(runtimeFiles(), "lien.js")
	if err != nil {
		panic(err) // it is embedded
	}
	return exported.ReplaceAllStringFunc(string(all), func(line string) string {
		parts := exported.FindStringSubmatch(line)
		list := slices.DeleteFunc(strings.Split(parts[1], ", "), func(name string) bool {
			_, as, is := strings.Cut(name, " as ")
			if !is {
				as = name
			}
			return !named[as]
		})
		if len(list) == 0 {
			return ""
		}
		return "export { " + strings.Join(list, ", ") + " } from " + parts[2] + ";"
	})
}

// modules is a file system of the modules of a page and of the runtime, as far as the design needs it.
type modules struct {
	own   map[string]string
	needs map[string]bool
}

func modulesOf(d *design.Design, o Options, files map[string]string) modules {
	own := maps.Clone(files)
	own["lien.js"] = exports(files)
	if o.StandIns && len(d.Services) > 0 {
		own["lien.js"] = exports(files, "answer") // as somebody decides what comes back
	}
	return modules{own, needs(d, o)}
}

// ReadFile reads a module.
func (m modules) ReadFile(name string) ([]byte, error) {
	if text, ok := m.own[name]; ok {
		return []byte(text), nil
	}
	return fs.ReadFile(runtimeFiles(), name)
}
