package cli

import (
	"archive/zip"
	"bytes"
	"errors"
	"os/exec"
	"path/filepath"
	"strings"
)

// asOf is the same place in an earlier revision, as the user's git has it.
func (p place) asOf(rev string) (place, error) {
	root := p.path(".")
	if strings.HasPrefix(rev, "-") {
		return place{}, usagef("write a commit, branch or tag, such as HEAD", "%q is no revision", rev)
	}
	cmd := exec.Command("git", "-C", root, "archive", "--format=zip", rev, "--", ".")
	var out, told bytes.Buffer
	cmd.Stdout, cmd.Stderr = &out, &told
	if err := cmd.Run(); err != nil {
		if errors.Is(err, exec.ErrNotFound) {
			return place{}, usagef("compare two folders: lien compare BEFORE AFTER", "git is not installed, so there is no earlier text")
		}
		why := strings.TrimSpace(strings.TrimPrefix(strings.SplitN(told.String(), "\n", 2)[0], "fatal: "))
		return place{}, usagef("write a commit, branch or tag that has "+filepath.ToSlash(root), "git does not give %s of this folder: %s", rev, why)
	}
	fsys, err := zip.NewReader(bytes.NewReader(out.Bytes()), int64(out.Len()))
	if err != nil {
		return place{}, usagef("", "what git gives cannot be read: %v", err)
	}
	show := func(name string) string { return rev + ":" + p.show(name) }
	return place{fsys, p.name, show, p.path}, nil
}
