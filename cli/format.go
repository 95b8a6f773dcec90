package cli

import (
	"context"
	"encoding/json"
	"slices"
	"strings"

	"github.com/urfave/cli/v3"

	"lien/core/check"
	"lien/core/design"
	"lien/core/finding"
	"lien/core/source"
)

func formatFlag(formats ...string) cli.Flag {
	return &cli.StringFlag{
		Name: "format", Value: "text", Usage: "print as `FORMAT`: " + strings.Join(formats, ", "),
		Action: func(_ context.Context, _ *cli.Command, f string) error {
			if !slices.Contains(formats, f) {
				return usagef("write --format "+strings.Join(formats, ", or "), "there is no format %q", f)
			}
			return nil
		},
	}
}

func (t *terminal) json(v any) error {
	enc := json.NewEncoder(t.Out)
	enc.SetEscapeHTML(false)
	enc.SetIndent("", "  ")
	return enc.Encode(v)
}

// spanJSON is a stretch of text: file, first and last place, from 1.
type spanJSON struct {
	source.Position
	EndLine   int `json:"endLine"`
	EndColumn int `json:"endColumn"`
}

func spanOf(d *design.Design, at source.Span) spanJSON {
	end := d.Set.Position(max(at.Start, at.End))
	return spanJSON{d.Set.Position(at.Start), end.Line, end.Column}
}

type findingJSON struct {
	Rule    string        `json:"rule"`
	Level   string        `json:"level"`
	At      spanJSON      `json:"at"`
	Message string        `json:"message"`
	Why     string        `json:"why"`
	Write   string        `json:"write,omitempty"`
	Related []relatedJSON `json:"related,omitempty"`
	Fixable bool          `json:"fixable"`
}

type relatedJSON struct {
	At   source.Position `json:"at"`
	Text string          `json:"text"`
}

type checkJSON struct {
	Components int           `json:"components"`
	Files      int           `json:"files"`
	Findings   []findingJSON `json:"findings"`
}

func findingsJSON(d *design.Design, list []*finding.Finding) checkJSON {
	out := checkJSON{len(d.Components), len(d.Files), []findingJSON{}}
	for _, f := range list {
		j := findingJSON{Rule: f.Rule, Level: f.Level.String(), At: spanOf(d, f.Span), Message: f.Message, Write: f.Write, Fixable: f.Fix != nil}
		if p := check.Page(f.Rule); p != nil {
			j.Why = p.Why
		}
		for _, r := range f.Related {
			j.Related = append(j.Related, relatedJSON{d.Set.Position(r.Pos), r.Text})
		}
		out.Findings = append(out.Findings, j)
	}
	return out
}

// sarif is the findings as SARIF 2.1.0 (OASIS).
func sarif(d *design.Design, list []*finding.Finding) any {
	type obj = map[string]any
	location := func(at source.Span) obj {
		s := spanOf(d, at)
		return obj{"physicalLocation": obj{
			"artifactLocation": obj{"uri": s.File},
			"region":           obj{"startLine": max(1, s.Line), "startColumn": max(1, s.Column), "endLine": max(1, s.EndLine), "endColumn": max(1, s.EndColumn)},
		}}
	}
	rules, used := []obj{}, map[string]int{}
	results := []obj{}
	for _, f := range list {
		if _, ok := used[f.Rule]; !ok {
			used[f.Rule] = len(rules)
			r := obj{"id": f.Rule}
			if p := check.Page(f.Rule); p != nil {
				r["fullDescription"] = obj{"text": p.Why}
			}
			rules = append(rules, r)
		}
		text := f.Message
		if f.Write != "" {
			text += ". Remedy: " + f.Write
		}
		results = append(results, obj{"ruleId": f.Rule, "ruleIndex": used[f.Rule], "level": f.Level.String(),
			"message": obj{"text": text}, "locations": []obj{location(f.Span)}})
	}
	return obj{
		"$schema": "https://docs.oasis-open.org/sarif/sarif/v2.1.0/os/schemas/sarif-schema-2.1.0.json",
		"version": "2.1.0",
		"runs": []obj{{
			"tool":       obj{"driver": obj{"name": "lien", "version": Version, "rules": rules}},
			"columnKind": "unicodeCodePoints",
			"results":    results,
		}},
	}
}
