//go:build unix

package webdriver

import (
	"os/exec"
	"syscall"
)

// ownGroup puts the driver and the browsers that it starts into a group of their own, which
// ends as one.
func ownGroup(c *exec.Cmd) { c.SysProcAttr = &syscall.SysProcAttr{Setpgid: true} }

// groupLives says whether anything of the group runs.
func groupLives(c *exec.Cmd) bool { return syscall.Kill(-c.Process.Pid, 0) == nil }

func killGroup(c *exec.Cmd) { syscall.Kill(-c.Process.Pid, syscall.SIGKILL) }

func endGroup(c *exec.Cmd) { syscall.Kill(-c.Process.Pid, syscall.SIGTERM) }
