package cli

import (
	"lien/core/design"
	"lien/core/play"
	"lien/core/serve"
)

// studio opens a design for the panes of lien serve, as lien try does for a terminal.
type studio struct {
	t      *terminal
	place  place
	budget design.Budget
	start  string // that a pane begins with
}

// tried is what is chosen, as try knows it.
func (s *studio) tried(c serve.Choice) *tried {
	o := &tried{place: s.place, budget: s.budget, component: c.Component, given: c.Given, start: c.Start}
	if o.start == "" {
		o.start = s.start
	}
	return o
}

// Open mounts what is chosen.
func (s *studio) Open(c serve.Choice) (*play.Session, error) {
	o := s.tried(c)
	d, err := o.load(s.t, "")
	if err != nil {
		return nil, err
	}
	start, err := o.startOf(d)
	if err != nil {
		return nil, err
	}
	session, err := play.New(d, start)
	if err != nil {
		return nil, usagef("see lien test", "%s does not start: %s", start.Root.Name, err)
	}
	return session, nil
}

// Again does in the design as it is now what was done.
func (s *studio) Again(c serve.Choice, session *play.Session) (*play.Session, string) {
	return s.tried(c).reload(s.t, session)
}

// Save keeps what was done as a scenario.
func (s *studio) Save(c serve.Choice, session *play.Session, name string) (string, error) {
	return s.tried(c).save(session, name)
}
