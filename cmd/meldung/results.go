package main

import (
	"fmt"
	"os"
	"slices"

	"github.com/spf13/cobra"

	"meldung/core/results"
	"meldung/files/gradebook"
	"meldung/files/table"
)

func resultsCommand() *cobra.Command {
	var rule, asAt, in, out string
	c := &cobra.Command{
		Use: "results", Short: "Work out the credits in a folder of course results", Args: cobra.NoArgs,
		Long: `Work out the credits in a folder of course results.

The folder --in holds courses.csv, students.csv, grades.csv and, where there are
any, periods.csv (else four quarters of one year), exams.csv and recovery.csv.
students.csv and courses.csv are written to the folder --out, as at the end of the
period --as-at. Where anything is wrong it is told by file and line, nothing is
written, and the command ends with 2.`,
		RunE: func(*cobra.Command, []string) error { return runResults(rule, asAt, in, out) },
	}
	c.Flags().StringVar(&rule, "rule", "", "path of a rule file: scale, line, marks of who has withdrawn, expected credits")
	c.Flags().StringVar(&asAt, "as-at", "", "grading period at whose end the results stand")
	c.Flags().StringVar(&in, "in", "", "folder to read")
	c.Flags().StringVar(&out, "out", "", "folder to write; made when missing")
	for _, name := range []string{"as-at", "in", "out"} {
		cobra.CheckErr(c.MarkFlagRequired(name))
	}
	return c
}

func runResults(ruleFile, asAt, in, out string) error {
	if err := differentFolders(in, out); err != nil {
		return err
	}
	rule := results.DefaultRule()
	if ruleFile != "" {
		text, err := os.ReadFile(ruleFile)
		if err != nil {
			return fmt.Errorf("--rule: %w", err)
		}
		if rule, err = gradebook.ParseRule(text); err != nil {
			return err
		}
	}
	book, wrong := gradebook.Read(os.DirFS(in), rule)
	if len(wrong) > 0 {
		return problems(wrong)
	}
	at := slices.IndexFunc(book.Periods, func(p results.Period) bool { return p.Name == asAt })
	if at < 0 {
		return fmt.Errorf("--as-at %q is no period", asAt)
	}
	return table.WriteFolder(out, gradebook.Measure(book, results.Quarter(at)))
}
