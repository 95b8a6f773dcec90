//go:build !unix

package webdriver

import "os/exec"

func ownGroup(*exec.Cmd) {}

func endGroup(c *exec.Cmd) { c.Process.Kill() }
