package main

import (
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"path"
	"path/filepath"
	"time"

	"github.com/spf13/cobra"

	"meldung/core/day"
	"meldung/files/table"
	"meldung/outside"
	"meldung/store"
	"meldung/work"
	"meldung/work/caseload"
	"meldung/work/coursework"
	"meldung/work/incidents"
	"meldung/work/outlooks"
	"meldung/work/plans"
	"meldung/work/roster"
)

// toChange opens a data folder's school for a command that changes it, making it when missing.
func toChange(ctx context.Context, data string, f func(o *work.Office) error) (err error) {
	release, err := store.Lock(data)
	if errors.Is(err, store.ErrInUse) {
		return fmt.Errorf("%w. Import on the School page of the running program, or stop it first; nothing was changed", err)
	}
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, release()) }()
	db, err := store.Open(ctx, data)
	if err != nil {
		return err
	}
	return withOffice(ctx, db, f)
}

// toRead opens a data folder's school as it is at this moment, for a command that changes
// nothing; beside a server too.
func toRead(ctx context.Context, data string, f func(o *work.Office) error) error {
	db, err := store.OpenToRead(ctx, data)
	if err != nil {
		return err
	}
	return withOffice(ctx, db, f)
}

func withOffice(ctx context.Context, db *store.Store, f func(o *work.Office) error) error {
	defer db.Close()
	office, err := work.Open(ctx, db, outside.WallClock{Zone: time.Local})
	if err != nil {
		return err
	}
	return f(office)
}

type importer func(ctx context.Context, o *work.Office, p work.Person, key string, files table.Files, opt plans.Options) (plans.Plan, error)

func importCommand() *cobra.Command {
	c := &cobra.Command{Use: "import", Short: "Import files into a data folder"}
	c.AddCommand(
		importKind("oneroster", "Import people and classes from a folder or zip of OneRoster 1.1 CSV", roster.ImportRoster),
		importKind("grades", "Import courses.csv, grades.csv, exams.csv and recovery.csv from a folder or zip", coursework.Import),
		importKind("incidents", "Import incidents.csv and incident_people.csv from a folder or zip", incidents.Import),
		importKind("contacts", "Import contacts.csv, how students were followed up, from a folder or zip", caseload.ImportContacts),
		importKind("sessions", "Import support sessions, sessions.csv, from a folder or zip", caseload.ImportSessions),
		importKind("history", "Import past students, history.csv, from a folder or zip", outlooks.Import),
		importKind("activity", "Import activity.csv of learning platforms or the library from a folder or zip", outlooks.ImportActivity),
		importKind("timetable", "Import calendar.csv, slots.csv and timetable.csv from a folder or zip", roster.ImportTimetable),
	)
	return c
}

func importKind(kind, short string, run importer) *cobra.Command {
	var data, from string
	var opt plans.Options
	c := &cobra.Command{
		Use: kind + " PATH", Short: short, Args: cobra.ExactArgs(1),
		RunE: func(c *cobra.Command, args []string) error {
			if from != "" {
				d, err := day.ParseDate(from)
				if err != nil {
					return fmt.Errorf("--from %w", err)
				}
				opt.From = &d
			}
			files, err := table.Open(args[0])
			if err != nil {
				return err
			}
			open := toChange
			if _, err := os.Stat(filepath.Join(data, store.File)); err == nil && !opt.Apply {
				open = toRead // beside a server too
			}
			return open(c.Context(), data, func(o *work.Office) error {
				plan, err := run(c.Context(), o, work.Person{Name: "import"}, "", files, opt)
				if err != nil {
					return err
				}
				return tellPlan(c.OutOrStdout(), plan)
			})
		},
	}
	c.Flags().StringVar(&data, "data", "", "data folder")
	c.Flags().BoolVar(&opt.Apply, "apply", false, "do it; without, only say what would change")
	c.Flags().StringVar(&from, "from", "", "date from which it is to hold, YYYY-MM-DD; without, as early as changes nothing that is over")
	c.Flags().BoolVar(&opt.CorrectPast, "correct-past", false, "the past is to be corrected: it may hold from days on whose registers are in")
	c.Flags().BoolVar(&opt.TakeFiles, "take-files", false, "the files' contacts and warnings take the place of what the school itself has changed; without, those stay")
	cobra.CheckErr(c.MarkFlagRequired("data"))
	return c
}

// tellPlan prints what an import would do or has done.
func tellPlan(out io.Writer, p plans.Plan) error {
	for _, line := range p.Problems {
		fmt.Fprintln(out, "wrong:", line)
	}
	for _, line := range p.Notes {
		fmt.Fprintln(out, "note:", line)
	}
	for _, line := range p.Kept {
		fmt.Fprintln(out, "kept:", line)
	}
	for _, line := range p.Details {
		fmt.Fprintln(out, line)
	}
	for _, part := range p.Parts {
		fmt.Fprintf(out, "%-40s %5d added %5d changed %5d ended %5d the same\n", part.What, part.Added, part.Changed, part.Ended, part.Same)
	}
	for _, line := range p.Figures {
		fmt.Fprintln(out, "figures:", line)
	}
	if p.Changes() > 0 {
		fmt.Fprintln(out, "holds", p.When)
	}
	switch {
	case len(p.Problems) > 0:
		return fmt.Errorf("%d lines are wrong; nothing was changed", len(p.Problems))
	case p.Applied && p.Changes() == 0:
		fmt.Fprintln(out, "nothing to change")
	case p.Applied:
		fmt.Fprintln(out, "applied")
	default:
		fmt.Fprintln(out, "nothing was changed; --apply does it")
	}
	return nil
}

func exportCommand() *cobra.Command {
	c := &cobra.Command{Use: "export", Short: "Export a data folder as files"}
	c.AddCommand(
		exportKind("oneroster", "Export people and classes as OneRoster 1.1 CSV", roster.ExportRoster),
		exportKind("incidents", "Export incidents.csv and incident_people.csv", incidents.Export),
		exportKind("contacts", "Export how students were followed up, contacts.csv, without what is kept to fewer than the office", caseload.ExportContacts),
		exportKind("sessions", "Export support sessions, sessions.csv", caseload.ExportSessions),
		exportKind("timetable", "Export calendar.csv, slots.csv and timetable.csv", roster.ExportTimetable),
		exportAssess(),
		exportList(),
	)
	return c
}

func exportAssess() *cobra.Command {
	var data, out, on, section string
	c := &cobra.Command{
		Use: "assess", Short: "Export the year as the files that assess measures, with the policies in the school's own codes", Args: cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			d := day.Date(0)
			if on != "" {
				var err error
				if d, err = day.ParseDate(on); err != nil {
					return fmt.Errorf("--of %w", err)
				}
			}
			return toRead(c.Context(), data, func(o *work.Office) error {
				if on == "" {
					d = o.Now().Date()
				}
				return roster.WriteAssess(c.Context(), o, d, section, func(files table.Contents) error {
					return writeTo(c.OutOrStdout(), out, files)
				})
			})
		},
	}
	c.Flags().StringVar(&on, "of", "", "a date of the school year, YYYY-MM-DD; without, the present one")
	c.Flags().StringVar(&section, "section", "", "a section, by its organisation's sourcedId or name; without, each in a folder of its own")
	c.Flags().StringVar(&data, "data", "", "data folder")
	c.Flags().StringVar(&out, "out", "", "folder to write; made when missing")
	cobra.CheckErr(c.MarkFlagRequired("data"))
	cobra.CheckErr(c.MarkFlagRequired("out"))
	return c
}

// exportTo writes a school's files to a folder.
func exportTo(c *cobra.Command, data, folder string, run func(context.Context, *work.Office) (table.Files, error)) error {
	return toRead(c.Context(), data, func(o *work.Office) error {
		files, err := run(c.Context(), o)
		if err != nil {
			return err
		}
		return writeTo(c.OutOrStdout(), folder, files.Contents())
	})
}

// writeTo writes files to a folder and those within it, and says so.
func writeTo(told io.Writer, folder string, files table.Contents) error {
	within := map[string]table.Contents{} // by folder
	for name, content := range files {
		dir, base := path.Split(name)
		if within[dir] == nil {
			within[dir] = table.Contents{}
		}
		within[dir][base] = content
	}
	for dir, some := range within {
		if err := table.WriteContents(filepath.Join(folder, dir), some); err != nil {
			return err
		}
	}
	fmt.Fprintf(told, "%d files with student data are in %s\n", len(files), folder)
	return nil
}

func exportKind(kind, short string, run func(context.Context, *work.Office) (table.Files, error)) *cobra.Command {
	var data string
	c := &cobra.Command{
		Use: kind + " PATH", Short: short, Args: cobra.ExactArgs(1),
		RunE: func(c *cobra.Command, args []string) error {
			return exportTo(c, data, args[0], run)
		},
	}
	c.Flags().StringVar(&data, "data", "", "data folder")
	cobra.CheckErr(c.MarkFlagRequired("data"))
	return c
}
