package web

import (
	"embed"
	"fmt"
	"io/fs"
	"path"

	"github.com/evanw/esbuild/pkg/api"
)

//go:embed runtime/*.js
var runtimeFiles embed.FS

// Runtime is what the components of a page share, as one module.
func Runtime() (string, error) {
	files, err := fs.Sub(runtimeFiles, "runtime")
	if err != nil {
		return "", err
	}
	res := api.Build(api.BuildOptions{
		EntryPoints: []string{"lien.js"}, Bundle: true, Format: api.FormatESModule, Target: api.ES2022, Charset: api.CharsetUTF8,
		LegalComments: api.LegalCommentsNone, Plugins: []api.Plugin{in(files)},
	})
	if len(res.Errors) > 0 {
		return "", fmt.Errorf("the runtime cannot be put together: %s", res.Errors[0].Text)
	}
	return string(res.OutputFiles[0].Contents), nil
}

// in lets modules be read from a file system.
func in(files fs.FS) api.Plugin {
	return api.Plugin{Name: "files", Setup: func(b api.PluginBuild) {
		b.OnResolve(api.OnResolveOptions{Filter: ".*"}, func(a api.OnResolveArgs) (api.OnResolveResult, error) {
			return api.OnResolveResult{Path: path.Clean(a.Path), Namespace: "files"}, nil
		})
		b.OnLoad(api.OnLoadOptions{Filter: ".*", Namespace: "files"}, func(a api.OnLoadArgs) (api.OnLoadResult, error) {
			text, err := fs.ReadFile(files, a.Path)
			contents := string(text)
			return api.OnLoadResult{Contents: &contents, Loader: api.LoaderJS}, err
		})
	}}
}
