package main

import (
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"time"

	"github.com/spf13/cobra"

	"meldung/store"
)

func backupCommand() *cobra.Command {
	var data, to string
	var keep int
	c := &cobra.Command{
		Use: "backup", Short: "Copy a data folder's school to one file, beside a running server too", Args: cobra.NoArgs,
		Long: `Copy a data folder's school, as it is at one moment, to one file, beside a
running server too. The copy is read whole and held against the rules of its
tables before it gets its name. Where --to is a folder, the file is named by
date and time, and --keep leaves the latest so many.`,
		RunE: func(c *cobra.Command, _ []string) error {
			folder := ""
			if info, err := os.Stat(to); err == nil && info.IsDir() {
				folder = to
				to = filepath.Join(folder, backupName(time.Now()))
			} else if keep > 0 {
				return errors.New("--keep needs a folder as --to, for the files there")
			}
			if err := store.Backup(c.Context(), data, to); err != nil {
				return err
			}
			fmt.Fprintf(c.OutOrStdout(), "%s holds the school, with all its personal data\n", to)
			if folder == "" || keep <= 0 {
				return nil
			}
			return leaveLatest(folder, keep)
		},
	}
	c.Flags().StringVar(&data, "data", "", "data folder")
	c.Flags().StringVar(&to, "to", "", "file to make, or a folder to make it in")
	c.Flags().IntVar(&keep, "keep", 0, "how many backups are left in the folder; 0 leaves all")
	cobra.CheckErr(c.MarkFlagRequired("data"))
	cobra.CheckErr(c.MarkFlagRequired("to"))
	return c
}

const backupPrefix, backupSuffix = "meldung-", ".db"

func backupName(at time.Time) string {
	return backupPrefix + at.UTC().Format("2006-01-02T150405Z") + backupSuffix
}

// leaveLatest removes the oldest backups of a folder, by their names, but for so many.
func leaveLatest(folder string, keep int) error {
	names, err := filepath.Glob(filepath.Join(folder, backupPrefix+"????-??-??T??????Z"+backupSuffix)) // sorted
	if err != nil {
		return err
	}
	for _, name := range names[:max(0, len(names)-keep)] {
		if err := os.Remove(name); err != nil {
			return err
		}
	}
	return nil
}

func restoreCommand() *cobra.Command {
	var data string
	c := &cobra.Command{
		Use: "restore FILE", Short: "Put a backup in the place of a data folder's school", Args: cobra.ExactArgs(1),
		Long: `Put a backup in the place of a data folder's school. The backup is read whole
first; what was in the folder is kept under another name.`,
		RunE: func(c *cobra.Command, args []string) (err error) {
			release, err := store.Lock(data)
			if errors.Is(err, store.ErrInUse) {
				return fmt.Errorf("%w. Stop it first; nothing was changed", err)
			}
			if err != nil {
				return err
			}
			defer func() { err = errors.Join(err, release()) }()
			kept, err := store.Restore(c.Context(), args[0], data)
			if err != nil {
				return err
			}
			fmt.Fprintf(c.OutOrStdout(), "%s is the school of %s now\n", args[0], data)
			if kept != "" {
				fmt.Fprintf(c.OutOrStdout(), "what was there is %s\n", kept)
			}
			return nil
		},
	}
	c.Flags().StringVar(&data, "data", "", "data folder")
	cobra.CheckErr(c.MarkFlagRequired("data"))
	return c
}
