package rulesfile

import (
	"fmt"
	"strings"

	"meldung/core/attention"
	"meldung/core/policy"
	"meldung/files/policyfile"
)

// Format writes rules as a file that reads as the same rules.
func Format(rules []Rule) []byte {
	var b strings.Builder
	b.WriteString("rules:\n")
	for _, r := range rules {
		fmt.Fprintf(&b, "  - id: %s\n    title: %s\n", quoted(r.ID), quoted(r.Title))
		if r.Source != "" {
			fmt.Fprintf(&b, "    source: %s\n", quoted(r.Source))
		}
		if !r.On {
			b.WriteString("    on: false\n")
		}
		if len(r.Tell) > 0 {
			fmt.Fprintf(&b, "    %s\n", list("tell", r.Tell))
		}
		if r.Send {
			b.WriteString("    send: true\n")
		}
		if of := scopeText(r.For); of != "" {
			fmt.Fprintf(&b, "    for: {%s}\n", of)
		}
		writeGroup(&b, r.If, "    ")
	}
	return []byte(b.String())
}

func quoted(text string) string { return policyfile.Quoted(text) }

func list(key string, of []string) string {
	words := make([]string, len(of))
	for i, x := range of {
		words[i] = quoted(x)
	}
	return key + ": [" + strings.Join(words, ", ") + "]"
}

func scopeText(s attention.Scope) string {
	var parts []string
	for _, x := range []struct {
		key string
		of  []string
	}{{"years", s.Years}, {"forms", s.Forms}, {"classes", s.Classes}, {"lists", s.Lists}} {
		if len(x.of) > 0 {
			parts = append(parts, list(x.key, x.of))
		}
	}
	if s.OnPlan {
		parts = append(parts, "on_plan: true")
	}
	return strings.Join(parts, ", ")
}

func writeGroup(b *strings.Builder, g attention.Group, indent string) {
	fmt.Fprintf(b, "%s%s:\n", indent, map[bool]string{false: "all", true: "any"}[g.Any])
	for _, e := range g.Entries {
		if e.Group != nil {
			var inner strings.Builder
			writeGroup(&inner, *e.Group, indent+"    ")
			b.WriteString(indent + "  - " + strings.TrimPrefix(inner.String(), indent+"    "))
			continue
		}
		c := e.Condition
		fmt.Fprintf(b, "%s  - %s: {%s}\n%s    %s: %s\n", indent, c.Indicator.ID, indicatorText(c.Indicator), indent, c.Op, quoted(valueText(c.Value)))
		if c.NeverOut {
			fmt.Fprintf(b, "%s    never: left_out\n", indent)
		}
	}
}

func valueText(v attention.Value) string {
	if v.Kind == attention.Word {
		return v.Word
	}
	if v.Den == 1 {
		return fmt.Sprint(v.Num)
	}
	return fmt.Sprintf("%d/%d", v.Num, v.Den)
}

func indicatorText(i attention.Indicator) string {
	var parts []string
	add := func(key, text string) {
		if text != "" {
			parts = append(parts, key+": "+text)
		}
	}
	text := func(key, of string) {
		if of != "" {
			add(key, quoted(of))
		}
	}
	for _, key := range attention.Define(i.ID).Params {
		switch key {
		case "policy":
			text(key, i.Policy)
		case "count":
			text(key, i.Count)
		case "of":
			add(key, sidesText(i.Of))
		case "window":
			add(key, windowText(i.Window))
		case "weekday":
			text(key, weekdays[i.Weekday])
		case "per":
			text(key, i.Per)
		case "with":
			text(key, i.With)
		case "days":
			if i.Days > 0 {
				add(key, fmt.Sprint(i.Days))
			}
		case "kinds", "roles", "places":
			if of := map[string][]string{"kinds": i.Kinds, "roles": i.Roles, "places": i.Places}[key]; len(of) > 0 {
				parts = append(parts, list(key, of))
			}
		default:
			text(key, map[string]string{"slot": i.Slot, "period": i.Period, "class": i.Class, "item": i.Item, "source": i.Source, "field": i.Field}[key])
		}
	}
	return strings.Join(parts, ", ")
}

func sidesText(s policy.Side) string {
	if s == 0 {
		return ""
	}
	return "[" + strings.Join(policyfile.SideWords(s), ", ") + "]"
}

func windowText(w policy.Window) string {
	word := policyfile.WindowWord(w.Kind)
	if w.Kind == policy.RollingDays || w.Kind == policy.RollingWeeks {
		return fmt.Sprintf("{%s: %d}", word, w.N)
	}
	return word
}
