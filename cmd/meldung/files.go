package main

import (
	"context"
	"fmt"
	"io"
	"time"

	"github.com/spf13/cobra"

	"meldung/files/table"
	"meldung/outside"
	"meldung/store"
	"meldung/work"
	"meldung/work/roster"
)

// withOffice opens a data folder's school, making it when missing.
func withOffice(ctx context.Context, data string, f func(o *work.Office) error) error {
	db, err := store.Open(ctx, data)
	if err != nil {
		return err
	}
	defer db.Close()
	office, err := work.Open(ctx, db, outside.WallClock{Zone: time.Local})
	if err != nil {
		return err
	}
	return f(office)
}

type importer func(ctx context.Context, o *work.Office, p work.Person, key string, files table.Files, apply bool) (roster.Plan, error)

func importCommand() *cobra.Command {
	c := &cobra.Command{Use: "import", Short: "Import files into a data folder"}
	c.AddCommand(
		importKind("oneroster", "Import people and classes from a folder or zip of OneRoster 1.1 CSV", roster.ImportRoster),
		importKind("timetable", "Import calendar.csv, slots.csv and timetable.csv from a folder or zip", roster.ImportTimetable),
	)
	return c
}

func importKind(kind, short string, run importer) *cobra.Command {
	var data string
	var apply bool
	c := &cobra.Command{
		Use: kind + " PATH", Short: short, Args: cobra.ExactArgs(1),
		RunE: func(c *cobra.Command, args []string) error {
			files, err := table.Open(args[0])
			if err != nil {
				return err
			}
			return withOffice(c.Context(), data, func(o *work.Office) error {
				plan, err := run(c.Context(), o, work.Person{Name: "import"}, "", files, apply)
				if err != nil {
					return err
				}
				return tellPlan(c.OutOrStdout(), plan, apply)
			})
		},
	}
	c.Flags().StringVar(&data, "data", "", "data folder")
	c.Flags().BoolVar(&apply, "apply", false, "do it; without, only say what would change")
	cobra.CheckErr(c.MarkFlagRequired("data"))
	return c
}

// tellPlan prints what an import would do or has done.
func tellPlan(out io.Writer, p roster.Plan, apply bool) error {
	for _, line := range p.Problems {
		fmt.Fprintln(out, "wrong:", line)
	}
	for _, line := range p.Notes {
		fmt.Fprintln(out, "note:", line)
	}
	for _, line := range p.Details {
		fmt.Fprintln(out, line)
	}
	for _, part := range p.Parts {
		fmt.Fprintf(out, "%-40s %5d added %5d changed %5d ended %5d the same\n", part.What, part.Added, part.Changed, part.Ended, part.Same)
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
		exportKind("timetable", "Export calendar.csv, slots.csv and timetable.csv", roster.ExportTimetable),
		exportAssess(),
	)
	return c
}

func exportAssess() *cobra.Command {
	var data, out string
	c := &cobra.Command{
		Use: "assess", Short: "Export the year as the files that assess measures, with the policies in the school's own codes", Args: cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error { return exportTo(c, data, out, roster.ExportAssess) },
	}
	c.Flags().StringVar(&data, "data", "", "data folder")
	c.Flags().StringVar(&out, "out", "", "folder to write; made when missing")
	cobra.CheckErr(c.MarkFlagRequired("data"))
	cobra.CheckErr(c.MarkFlagRequired("out"))
	return c
}

// exportTo writes a school's files to a folder.
func exportTo(c *cobra.Command, data, folder string, run func(*work.Office) (table.Files, error)) error {
	return withOffice(c.Context(), data, func(o *work.Office) error {
		files, err := run(o)
		if err != nil {
			return err
		}
		if err := table.WriteFolder(folder, files); err != nil {
			return err
		}
		fmt.Fprintf(c.OutOrStdout(), "%d files with student data are in %s\n", len(files), folder)
		return nil
	})
}

func exportKind(kind, short string, run func(*work.Office) (table.Files, error)) *cobra.Command {
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
