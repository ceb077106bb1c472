package main

import (
	"fmt"
	"os"
	"slices"
	"strings"

	"github.com/spf13/cobra"

	"meldung/core/day"
	"meldung/files/assess"
	"meldung/files/policyfile"
	"meldung/files/table"
)

// problems is what is wrong in the files of a command, one a line.
type problems []table.Problem

// mostProblems is how many are told one by one.
const mostProblems = 100

func (p problems) Error() string {
	var lines []string
	for _, one := range p[:min(len(p), mostProblems)] {
		lines = append(lines, one.String())
	}
	if more := len(p) - mostProblems; more > 0 {
		lines = append(lines, fmt.Sprintf("%d more", more))
	}
	return strings.Join(lines, "\n")
}

func assessCommand() *cobra.Command {
	var policyName, asAt, in, out string
	c := &cobra.Command{
		Use: "assess", Short: "Measure the absence in a folder of CSV files by a policy", Args: cobra.NoArgs,
		Long: `Measure the absence in a folder of CSV files by a policy.

The folder --in holds calendar.csv, slots.csv, students.csv, marks.csv and, where
they are needed, enrolments.csv (who left and came back), shares.csv (shares of full
time that changed) and schedule.csv (who is not due in all slots). students.csv, triggers.csv and
steps.csv are written to the folder --out. Where anything is wrong it is told by
file and line, nothing is written, and the command ends with 2.`,
		RunE: func(*cobra.Command, []string) error { return runAssess(policyName, asAt, in, out) },
	}
	c.Flags().StringVar(&policyName, "policy", "", "id of a shipped policy, or the path of a policy file")
	c.Flags().StringVar(&asAt, "as-at", "", "date up to which marks are read, YYYY-MM-DD")
	c.Flags().StringVar(&in, "in", "", "folder to read")
	c.Flags().StringVar(&out, "out", "", "folder to write; made when missing")
	for _, name := range []string{"policy", "as-at", "in", "out"} {
		cobra.CheckErr(c.MarkFlagRequired(name))
	}
	return c
}

func runAssess(policyName, asAt, in, out string) error {
	date, err := day.ParseDate(asAt)
	if err != nil {
		return fmt.Errorf("--as-at %w", err)
	}
	if err := differentFolders(in, out); err != nil {
		return err
	}
	p, err := policyfile.Load(policyName)
	if err != nil {
		return err
	}
	ledger, wrong := assess.Read(os.DirFS(in), p)
	if len(wrong) > 0 {
		return problems(wrong)
	}
	return table.WriteFolder(out, assess.Measure(ledger, p, date))
}

// differentFolders refuses an input that is no folder and an output that is the input.
func differentFolders(in, out string) error {
	from, err := os.Stat(in)
	if err != nil {
		return fmt.Errorf("--in: %w", err)
	}
	if !from.IsDir() {
		return fmt.Errorf("--in %s is not a folder", in)
	}
	if to, err := os.Stat(out); err == nil && os.SameFile(from, to) {
		return fmt.Errorf("--out can't be the folder that is read")
	}
	return nil
}

func policiesCommand() *cobra.Command {
	c := &cobra.Command{
		Use: "policies", Short: "List the shipped policies and code sets", Args: cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			out := c.OutOrStdout()
			fmt.Fprintln(out, "policies")
			for _, id := range policyfile.Policies() {
				p, err := policyfile.Shipped(id)
				if err != nil {
					return err
				}
				fmt.Fprintf(out, "  %-16s %s (codes %s)\n", id, p.Title, p.Codes.ID)
			}
			fmt.Fprintln(out, "code sets")
			for _, id := range policyfile.CodeSets() {
				set, err := policyfile.ShippedCodes(id)
				if err != nil {
					return err
				}
				fmt.Fprintf(out, "  %-16s %d codes\n", id, len(set.Codes))
			}
			return nil
		},
	}
	c.AddCommand(&cobra.Command{
		Use: "show ID", Short: "Print a shipped policy or code set, to edit a copy", Args: cobra.ExactArgs(1),
		RunE: func(c *cobra.Command, args []string) error {
			text := policyfile.Text
			if slices.Contains(policyfile.CodeSets(), args[0]) {
				text = policyfile.CodesText
			}
			content, err := text(args[0])
			if err != nil {
				return err
			}
			_, err = c.OutOrStdout().Write(content)
			return err
		},
	})
	return c
}
