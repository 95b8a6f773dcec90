package cli

import (
	"lien/core/compare"
	"lien/core/design"
	"lien/core/source"
)

type jsonComparison struct {
	Verdict   compare.Verdict `json:"verdict"`
	Pairs     int             `json:"pairs"`
	Turns     int             `json:"turns"`
	Cuts      []string        `json:"notLookedAt"`
	Starts    []jsonOutcome   `json:"starts"`
	Contracts []jsonContract  `json:"contracts"`
}

type jsonOutcome struct {
	Start      string          `json:"start"`
	Pairs      int             `json:"pairs"`
	Form       bool            `json:"oneForm"`
	Difference *jsonDifference `json:"difference,omitempty"`
}

type jsonDifference struct {
	What   string   `json:"what"`
	Steps  []string `json:"steps"`
	Real   bool     `json:"realTimes"`
	Before jsonSide `json:"before"`
	After  jsonSide `json:"after"`
}

type jsonSide struct {
	Page  []string `json:"page"`
	State []string `json:"state"`
}

type jsonContract struct {
	Component string            `json:"component"`
	Is        compare.Sign      `json:"is"`
	Breaks    bool              `json:"breaks"`
	Changes   []jsonChange      `json:"changes"`
	Users     []source.Position `json:"users"`
}

type jsonChange struct {
	Is     compare.Sign `json:"is"`
	Before string       `json:"before,omitempty"`
	After  string       `json:"after,omitempty"`
	Breaks string       `json:"breaks,omitempty"`
}

func comparisonJSON(before *design.Design, rep *compare.Report) jsonComparison {
	out := jsonComparison{Verdict: rep.Verdict, Pairs: rep.Pairs, Turns: rep.Turns, Cuts: append([]string{}, rep.Cuts...), Starts: []jsonOutcome{},
		Contracts: contractsJSON(before, rep.Contracts)}
	for _, s := range rep.Starts {
		o := jsonOutcome{Start: s.Name, Pairs: s.Pairs, Form: s.Form}
		if d := s.Difference; d != nil {
			o.Difference = &jsonDifference{What: d.What, Steps: append([]string{}, d.Steps...), Real: d.Real, Before: sideJSON(d.Before), After: sideJSON(d.After)}
		}
		out.Starts = append(out.Starts, o)
	}
	return out
}

func sideJSON(s compare.Side) jsonSide {
	return jsonSide{append([]string{}, s.Page...), append([]string{}, stateLines(s.State, true)...)}
}

func contractsJSON(before *design.Design, list []*compare.Contract) []jsonContract {
	out := []jsonContract{}
	for _, c := range list {
		j := jsonContract{Component: c.Component, Is: c.Sign, Breaks: c.Breaks(), Users: []source.Position{}}
		for _, ch := range c.Changes {
			j.Changes = append(j.Changes, jsonChange{ch.Sign, ch.Was, ch.Is, ch.Breaks})
		}
		for _, at := range c.Users {
			j.Users = append(j.Users, before.Set.Position(at.Start))
		}
		out = append(out, j)
	}
	return out
}
