package web

import (
	"embed"
	"fmt"
	"io/fs"
	"path"

	"github.com/evanw/esbuild/pkg/api"
)

//go:embed runtime/*.js runtime/without/*.js
var embedded embed.FS

// runtimeFiles are the modules of what the components of a page share.
func runtimeFiles() fs.FS {
	files, err := fs.Sub(embedded, "runtime")
	if err != nil {
		panic(err) // the folder is embedded
	}
	return files
}

// short are names that get short where a page is minified, and what they became: the same in all its modules.
type short struct {
	names string // a regular expression
	as    map[string]any
}

// bundled is a module and all that it imports as one text, minified where names are given that get short.
func bundled(files modules, entry string, s *short) (string, error) {
	o := api.BuildOptions{
		EntryPoints: []string{entry}, Bundle: true, Format: api.FormatESModule, Target: api.ES2022, Charset: api.CharsetUTF8,
		LegalComments: api.LegalCommentsNone, Plugins: []api.Plugin{files.plugin()},
	}
	if s != nil {
		o.MinifyWhitespace, o.MinifyIdentifiers, o.MinifySyntax = true, true, true
		o.MangleProps, o.MangleCache = s.names, s.as
	}
	res := api.Build(o)
	if len(res.Errors) > 0 {
		return "", errorOf("the modules", res.Errors[0])
	}
	if s != nil {
		s.as = res.MangleCache
	}
	return string(res.OutputFiles[0].Contents), nil
}

// minified is a module without what only people read.
func minified(text string, s *short) (string, error) {
	res := api.Transform(text, api.TransformOptions{
		MinifyWhitespace: true, MinifyIdentifiers: true, MinifySyntax: true, Charset: api.CharsetUTF8, Target: api.ES2022,
		MangleProps: s.names, MangleCache: s.as,
	})
	if len(res.Errors) > 0 {
		return "", errorOf("a module", res.Errors[0])
	}
	return string(res.Code), nil
}

// errorOf says what the bundler finds wrong.
func errorOf(what string, m api.Message) error {
	return fmt.Errorf("%s cannot be read: %s", what, m.Text)
}

// plugin lets the bundler read the modules.
func (m modules) plugin() api.Plugin {
	return api.Plugin{Name: "files", Setup: func(b api.PluginBuild) {
		b.OnResolve(api.OnResolveOptions{Filter: ".*"}, func(a api.OnResolveArgs) (api.OnResolveResult, error) {
			return api.OnResolveResult{Path: m.module(path.Join(path.Dir(a.Importer), a.Path)), Namespace: "files"}, nil
		})
		b.OnLoad(api.OnLoadOptions{Filter: ".*", Namespace: "files"}, func(a api.OnLoadArgs) (api.OnLoadResult, error) {
			text, err := m.ReadFile(a.Path)
			contents := string(text)
			return api.OnLoadResult{Contents: &contents, Loader: api.LoaderJS}, err
		})
	}}
}
