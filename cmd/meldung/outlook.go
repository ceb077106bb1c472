package main

import (
	"errors"
	"fmt"
	"io/fs"
	"math"
	"os"
	"path/filepath"

	"github.com/spf13/cobra"

	"meldung/core/outlook"
	"meldung/core/policy"
	"meldung/files/outlookfile"
	"meldung/files/table"
)

func outlookCommand() *cobra.Command {
	var history, students, areas, ridge, out string
	c := &cobra.Command{
		Use: "outlook", Short: "Fit an outlook to past students, and say how far it can be trusted", Args: cobra.NoArgs,
		Long: `Fit an outlook to past students, and say how far it can be trusted.

The file --history has student, outcome (1: left without finishing) and any inputs,
a row for each past student; --students the same of students of today, without
outcome. coefficients.csv, fit.csv, calibration.csv and outlooks.csv are written to
the folder --out. Where anything is wrong it is told by file and line, nothing is
written, and the command ends with 2.`,
		RunE: func(*cobra.Command, []string) error { return runOutlook(history, students, areas, ridge, out) },
	}
	c.Flags().StringVar(&history, "history", "", "file of past students")
	c.Flags().StringVar(&students, "students", "", "file of students of today")
	c.Flags().StringVar(&areas, "area", "", "areas of the inputs: column=area, separated by commas")
	c.Flags().StringVar(&ridge, "ridge", "0", "weight of a ridge penalty over the standardised columns")
	c.Flags().StringVar(&out, "out", "", "folder to write; made when missing")
	for _, name := range []string{"history", "out"} {
		cobra.CheckErr(c.MarkFlagRequired(name))
	}
	return c
}

func runOutlook(historyFile, studentsFile, areaText, ridgeText, out string) error {
	exact, err := policy.ParseDecimal(ridgeText)
	if err != nil {
		return fmt.Errorf("--ridge %w", err)
	}
	ridge, _ := exact.Rat().Float64()
	if math.IsInf(ridge, 0) {
		return fmt.Errorf("--ridge %q is too large", ridgeText)
	}
	for _, in := range []string{historyFile, studentsFile} {
		if err := notWrittenOver(in, out); err != nil {
			return err
		}
	}
	var missing problems
	read := func(name string) []byte {
		content, err := os.ReadFile(name)
		switch {
		case errors.Is(err, fs.ErrNotExist):
			missing = append(missing, table.Problem{File: name, Text: "the file is missing"})
		case err != nil:
			missing = append(missing, table.Problem{File: name, Text: "can't be read: " + err.Error()})
		}
		return content
	}
	history := read(historyFile)
	var students []byte
	if studentsFile != "" {
		students = read(studentsFile)
	}
	if len(missing) > 0 {
		return missing
	}
	past, today, wrong := outlookfile.Read(historyFile, history, studentsFile, students)
	if len(wrong) > 0 {
		return problems(wrong)
	}
	areas, err := outlookfile.ParseAreas(areaText, past.Inputs)
	if err != nil {
		return fmt.Errorf("--area: %w", err)
	}
	fit, err := outlook.New(past, ridge)
	if err != nil {
		return problems{{File: historyFile, Text: err.Error()}}
	}
	return table.WriteFolder(out, outlookfile.Measure(fit, today, areas))
}

// notWrittenOver refuses an output that would overwrite an input.
func notWrittenOver(in, out string) error {
	if in == "" {
		return nil
	}
	from, err := os.Stat(in)
	if err != nil {
		return nil // reading it says so
	}
	for _, name := range outlookfile.Written {
		to, err := os.Stat(filepath.Join(out, name))
		if err == nil && os.SameFile(from, to) {
			return fmt.Errorf("--out would overwrite %s", in)
		}
	}
	return nil
}
