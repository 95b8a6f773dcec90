package cli_test

import (
	"bytes"
	"fmt"
	"os"
	"os/exec"
	"sync"
	"syscall"
	"testing"
	"time"
	"unsafe"
)

// TestTryInAWindow: in a real terminal of 100 x 30 the screen is drawn, and drawn anew after a key.
func TestTryInAWindow(t *testing.T) {
	dir := demoIn(t)
	window, inside := openWindow(t, 100, 30)
	cmd := exec.Command(program, "try", "kiln")
	cmd.Dir, cmd.Stdin, cmd.Stdout, cmd.Stderr = dir, inside, inside, inside
	cmd.Env = append(os.Environ(), "TERM=xterm")
	cmd.SysProcAttr = &syscall.SysProcAttr{Setsid: true, Setctty: true}
	if err := cmd.Start(); err != nil {
		t.Fatal(err)
	}
	defer cmd.Process.Kill()
	inside.Close()
	s := &shownText{}
	go s.read(window)
	s.wait(t, "Kiln room")
	window.WriteString("\x1b[B\x1b[B\r") // down, down, enter
	s.wait(t, "press button")
	window.WriteString("q")
	if err := cmd.Wait(); err != nil {
		t.Errorf("it ended with %v", err)
	}
}

// openWindow opens a pseudo terminal (pty(7)) of a size.
func openWindow(t *testing.T, columns, rows uint16) (window, inside *os.File) {
	t.Helper()
	window, err := os.OpenFile("/dev/ptmx", os.O_RDWR, 0)
	if err != nil {
		t.Skipf("there is no terminal to be had: %v", err)
	}
	t.Cleanup(func() { window.Close() })
	var lock, number int32
	size := [4]uint16{rows, columns}
	for request, at := range map[uintptr]unsafe.Pointer{syscall.TIOCSPTLCK: unsafe.Pointer(&lock), syscall.TIOCGPTN: unsafe.Pointer(&number), syscall.TIOCSWINSZ: unsafe.Pointer(&size)} {
		if _, _, no := syscall.Syscall(syscall.SYS_IOCTL, window.Fd(), request, uintptr(at)); no != 0 {
			t.Fatal(no)
		}
	}
	inside, err = os.OpenFile(fmt.Sprintf("/dev/pts/%d", number), os.O_RDWR|syscall.O_NOCTTY, 0)
	if err != nil {
		t.Skipf("there is no terminal to be had: %v", err)
	}
	return window, inside
}

// shownText is what a program wrote to a window so far.
type shownText struct {
	mu   sync.Mutex
	text bytes.Buffer
}

func (s *shownText) read(window *os.File) {
	part := make([]byte, 4096)
	for {
		n, err := window.Read(part)
		s.mu.Lock()
		s.text.Write(part[:n])
		s.mu.Unlock()
		if err != nil {
			return
		}
	}
}

// wait waits until a text is shown.
func (s *shownText) wait(t *testing.T, want string) {
	t.Helper()
	for range 400 {
		s.mu.Lock()
		found := bytes.Contains(s.text.Bytes(), []byte(want))
		s.mu.Unlock()
		if found {
			return
		}
		time.Sleep(20 * time.Millisecond)
	}
	t.Fatalf("%q is not shown, but\n%q", want, s.text.String())
}
