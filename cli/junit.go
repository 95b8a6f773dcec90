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
	Cases    []testcase `xml:"testcase"`
}

type testcase struct {
	Class   string   `xml:"classname,attr"`
	Name    string   `xml:"name,attr"`
	Failure *failure `xml:"failure,omitempty"`
}

type failure struct {
	Message string `xml:"message,attr"`
	Text    string `xml:",chardata"`
}

func newSuite(name string) *suite { return &suite{Name: name} }

// add adds a case; an empty message says that it passed.
func (s *suite) add(class, name, message, text string) {
	c := testcase{Class: class, Name: name}
	s.Tests++
	if message != "" {
		s.Failures++
		c.Failure = &failure{message, text}
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
