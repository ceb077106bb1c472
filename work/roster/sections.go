package roster

import (
	"slices"
	"strings"

	"meldung/core/ids"
	"meldung/files/oneroster"
	"meldung/store"
	"meldung/work"
	"meldung/work/plans"
)

// takeSections takes the sections, which are the roster's organisations of type school. A
// school that had one section keeps it as the first of them, where none is known by its id.
func (c *rosterChange) takeSections() {
	c.sections, c.sectionName = map[string]ids.Section{}, map[ids.Section]string{}
	var schools []oneroster.Org
	for _, o := range c.read.Bundle.Orgs {
		if o.Type == "school" {
			schools = append(schools, o)
		}
	}
	c.name = schoolName(c.read.Bundle.Orgs, schools)
	known := map[string]int{}
	next := ids.Section(0)
	for i, s := range c.old.Sections {
		known[s.SourcedID] = i
		next = max(next, s.ID)
	}
	part := plans.PlanPart{What: "section"}
	all := slices.Clone(c.old.Sections)
	anyKnown := slices.ContainsFunc(schools, func(o oneroster.Org) bool { _, k := known[o.ID]; return k })
	for n, o := range schools {
		i, there := known[o.ID]
		if !there && !anyKnown && n == 0 && len(all) == 1 {
			i, there = 0, true
		}
		row := store.Section{SourcedID: o.ID, Name: o.Name}
		switch {
		case !there:
			next++
			row.ID = next
			c.fresh = append(c.fresh, row.ID)
			all = append(all, row)
			part.Added++
			c.p.Detail("add section %s", o.Name)
			c.p.Note("the section %s is new: it decides as %s does until that is changed, and has no school days until a timetable of it is imported", o.Name, all[0].Name)
		case all[i].SourcedID == o.ID && all[i].Name == o.Name:
			row.ID = all[i].ID
			part.Same++
		default:
			row.ID = all[i].ID
			if all[i].SourcedID == "" {
				part.Added++
			} else {
				part.Changed++
				c.p.Detail("change section %s to %s", all[i].Name, o.Name)
			}
			all[i] = row
		}
		c.sections[o.ID] = row.ID
		c.changed.Sections = append(c.changed.Sections, row)
	}
	c.next.Sections = all
	for _, s := range all {
		c.sectionName[s.ID] = s.Name
	}
	if len(schools) > 0 {
		c.p.Parts = append(c.p.Parts, part)
	}
}

// schoolName is what a school with some sections is called: as the organisation above them
// all, or as the first.
func schoolName(orgs, sections []oneroster.Org) string {
	if len(sections) == 0 {
		return ""
	}
	for _, o := range orgs {
		if len(sections) > 1 && !slices.ContainsFunc(sections, func(s oneroster.Org) bool { return s.Parent != o.ID }) {
			return o.Name
		}
	}
	return sections[0].Name
}

// sectionOf finds the one section among an organisation's ids; 0 for none, or where they are
// several.
func (c *rosterChange) sectionOf(orgs ...string) ids.Section {
	if len(c.sections) <= 1 {
		return c.next.Sections[0].ID
	}
	found := ids.Section(0)
	for _, o := range orgs {
		switch id := c.sections[o]; {
		case id == 0 || id == found:
		case found != 0:
			return 0
		default:
			found = id
		}
	}
	return found
}

// sectionOfClass returns the section of a class of the roster.
func (c *rosterChange) sectionOfClass(x oneroster.Class) ids.Section {
	id := c.sectionOf(x.School)
	if id == 0 {
		c.p.Wrong("classes.csv:%d: schoolSourcedId %q of %s is no school in orgs.csv, which has several", x.Line, x.School, x.Title)
		return c.next.Sections[0].ID
	}
	return id
}

// sectionsOfStudents returns the section of each student of the roster: that of its
// organisations or, where these name none or several, that of its form.
func (c *rosterChange) sectionsOfStudents() map[string]ids.Section {
	out, form := map[string]ids.Section{}, map[string]ids.Section{}
	classes := map[string]oneroster.Class{}
	for _, x := range c.read.Bundle.Classes {
		classes[x.ID] = x
	}
	for _, e := range c.read.Bundle.Enrollments {
		if x := classes[e.Class]; x.Type == "homeroom" {
			form[e.Student] = c.sectionOf(x.School)
		}
	}
	for _, s := range c.read.Bundle.Students {
		id := c.sectionOf(s.Orgs...)
		if id == 0 {
			id = form[s.ID]
		}
		if id == 0 {
			c.p.Wrong("users.csv:%d: orgSourcedIds %q of %s %s name no one school of orgs.csv, and neither does a form", s.Line, strings.Join(s.Orgs, ","), s.Given, s.Family)
			id = c.next.Sections[0].ID
		}
		out[s.ID] = id
	}
	return out
}

// sectionsOfStaff takes in which sections staff work: those of their organisations and of the
// classes that they teach.
func (c *rosterChange) sectionsOfStaff() {
	classes := map[string]ids.Section{}
	for _, x := range c.read.Bundle.Classes {
		classes[x.ID] = c.sectionOf(x.School)
	}
	now, inRoster := map[store.StaffSection]bool{}, map[ids.Staff]bool{}
	for _, s := range c.read.Bundle.Staff {
		inRoster[c.staff[s.ID]] = true
		for _, o := range s.Orgs {
			if id := c.sections[o]; id != 0 {
				now[store.StaffSection{StaffID: c.staff[s.ID], SectionID: id}] = true
			}
		}
	}
	for _, t := range c.read.Bundle.Teachings {
		if id := classes[t.Class]; id != 0 {
			now[store.StaffSection{StaffID: c.staff[t.Staff], SectionID: id}] = true
		}
	}
	part := plans.PlanPart{What: "section of a member of staff"}
	c.next.StaffSections = nil
	for _, x := range c.old.StaffSections {
		switch {
		case !inRoster[x.StaffID]:
		case now[x]:
			part.Same++
			delete(now, x)
		default:
			part.Ended++
			continue
		}
		c.next.StaffSections = append(c.next.StaffSections, x)
	}
	for x := range now {
		part.Added++
		c.next.StaffSections = append(c.next.StaffSections, x)
	}
	slices.SortFunc(c.next.StaffSections, func(a, b store.StaffSection) int {
		if a.StaffID != b.StaffID {
			return int(a.StaffID - b.StaffID)
		}
		return int(a.SectionID - b.SectionID)
	})
	c.p.Parts = append(c.p.Parts, part)
}

// among names a section where there are several; it is empty where there is one.
func (c *rosterChange) among(id ids.Section) string {
	if len(c.next.Sections) == 1 {
		return ""
	}
	return c.sectionName[id]
}

// sectionNamed finds a section by its organisation's id or by its name.
func sectionNamed(list []work.Section, name string) (work.Section, bool) {
	for _, same := range []func(work.Section) bool{
		func(s work.Section) bool { return s.SourcedID == name },
		func(s work.Section) bool { return strings.EqualFold(s.Name, name) },
	} {
		if i := slices.IndexFunc(list, same); i >= 0 {
			return list[i], true
		}
	}
	return work.Section{}, false
}
