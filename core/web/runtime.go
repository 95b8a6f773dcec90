package web

import (
	"embed"
	"fmt"
	"io/fs"
	"path"

	"github.com/evanw/esbuild/pkg/api"
)

//go:embed runtime/*.js
var embedded embed.FS

// runtimeFiles are the modules of what the components of a page share.
func runtimeFiles() fs.FS {
	files, err := fs.Sub(embedded, "runtime")
	if err != nil {
		panic(err) // the folder is embedded
	}
	return files
}

// bundled is a module and all that it imports as one text.
func bundled(files fs.FS, entry string, minify bool) (string, error) {
	res := api.Build(api.BuildOptions{
		EntryPoints: []string{entry}, Bundle: true, Format: api.FormatESModule, Target: api.ES2022, Charset: api.CharsetUTF8,
		MinifyWhitespace: minify, MinifyIdentifiers: minify, MinifySyntax: minify, LegalComments: api.LegalCommentsNone, Plugins: []api.Plugin{in(files)},
	})
	if len(res.Errors) > 0 {
		return "", errorOf("the modules", res.Errors[0])
	}
	return string(res.OutputFiles[0].Contents), nil
}

// minified is a module without what only people read.
func minified(text string) (string, error) {
	res := api.Transform(text, api.TransformOptions{MinifyWhitespace: true, MinifyIdentifiers: true, MinifySyntax: true, Charset: api.CharsetUTF8, Target: api.ES2022})
	if len(res.Errors) > 0 {
		return "", errorOf("a module", res.Errors[0])
	}
	return string(res.Code), nil
}

// errorOf says what the bundler finds wrong.
func errorOf(what string, m api.Message) error {
	return fmt.Errorf("%s cannot be read: %s", what, m.Text)
}

// in lets modules be read from a file system.
func in(files fs.FS) api.Plugin {
	return api.Plugin{Name: "files", Setup: func(b api.PluginBuild) {
		b.OnResolve(api.OnResolveOptions{Filter: ".*"}, func(a api.OnResolveArgs) (api.OnResolveResult, error) {
			return api.OnResolveResult{Path: path.Join(path.Dir(a.Importer), a.Path), Namespace: "files"}, nil
		})
		b.OnLoad(api.OnLoadOptions{Filter: ".*", Namespace: "files"}, func(a api.OnLoadArgs) (api.OnLoadResult, error) {
			text, err := fs.ReadFile(files, a.Path)
			contents := string(text)
			return api.OnLoadResult{Contents: &contents, Loader: api.LoaderJS}, err
		})
	}}
}
