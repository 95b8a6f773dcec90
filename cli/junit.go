package cli

import (
	"encoding/xml"
	"fmt"
	"io"
)

// suite is a list of test cases in the XML form that build servers read.
type suite struct {
	XMLName  xml.Name   `xml:"testsuite"`
	Name     string     `xml:"name,attr"`
	Tests    int        `xml:"tests,attr"`
	Failures int        `xml:"failures,attr"`
	Skipped  int        `xml:"skipped,attr"`
	Cases    []testcase `xml:"testcase"`
}

type testcase struct {
	Class   string   `xml:"classname,attr"`
	Name    string   `xml:"name,attr"`
	Failure *failure `xml:"failure,omitempty"`
	Skipped *skipped `xml:"skipped,omitempty"`
	Output  string   `xml:"system-out,omitempty"`
}

type skipped struct {
	Message string `xml:"message,attr"`
}

type failure struct {
	Message string `xml:"message,attr"`
	Text    string `xml:",chardata"`
}

func newSuite(name string) *suite { return &suite{Name: name} }

// add adds a case; an empty message says that it passed.
func (s *suite) add(class, name, message, text string) {
	c := testcase{Class: class, Name: name}
	if message != "" {
		c.Failure = &failure{message, text}
	}
	s.put(c)
}

func (s *suite) put(c testcase) {
	s.Tests++
	switch {
	case c.Failure != nil:
		s.Failures++
	case c.Skipped != nil:
		s.Skipped++
	}
	s.Cases = append(s.Cases, c)
}

func (s *suite) write(w io.Writer) error {
	fmt.Fprint(w, xml.Header)
	enc := xml.NewEncoder(w)
	enc.Indent("", "  ")
	if err := enc.Encode(s); err != nil {
		return err
	}
	_, err := fmt.Fprintln(w)
	return err
}
