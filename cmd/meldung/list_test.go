package main

import (
	"bytes"
	"context"
	"encoding/csv"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/demo/demotest"
	"meldung/files/table"
	"meldung/work"
	"meldung/work/caseload"
	"meldung/work/incidents"
	"meldung/work/leavers"
	"meldung/work/roster"
)

// A saved list is made by its name, in the form that the file's ending says; what can't be is told.
func TestExportList(t *testing.T) {
	t.Parallel()
	data := demotest.Data(t)
	out := filepath.Join(t.TempDir(), "petrel.csv")
	const name = "Petrel late: whom to ring"
	r := program(t, "export", "list", name, "--data", data, "--out", out, "--at", "2026-03-10")
	assert.Equal(t, 0, r.code, r.stderr)
	content, err := os.ReadFile(out)
	require.NoError(t, err)
	lines := strings.Split(string(content), "\n")
	assert.Contains(t, lines[0], "Student data of Fairlead School")
	assert.Equal(t, "Rung,Name,Form,Contact,To know", lines[1])
	assert.Greater(t, len(lines), 50)
	for _, wrong := range [][]string{{"nothing", out}, {name, out + ".txt"}} {
		r := program(t, "export", "list", wrong[0], "--data", data, "--out", wrong[1])
		assert.NotEqual(t, 0, r.code)
		assert.NotEmpty(t, r.stderr)
	}
}

// Every file that is exported, and every column of it, is on the page that tells of them.
func TestFilesAreAsDocumented(t *testing.T) {
	o := demotest.Copy(t)
	page, err := os.ReadFile("../../docs/files.md")
	require.NoError(t, err)
	told := 0
	record := func(ctx context.Context, o *work.Office) (table.Files, error) {
		_, archive, err := leavers.Everything(ctx, o, demotest.Admin, 232)
		if err != nil {
			return nil, err
		}
		return table.Unzip(archive)
	}
	for _, export := range []func(context.Context, *work.Office) (table.Files, error){record, roster.ExportRoster, roster.ExportTimetable, incidents.Export, caseload.ExportContacts, caseload.ExportSessions} {
		files, err := export(t.Context(), o)
		require.NoError(t, err)
		require.NotEmpty(t, files)
		_, standard := files["manifest.csv"] // which tells of its columns itself
		for name, content := range files {
			assert.Contains(t, string(page), "`"+name+"`")
			header, err := csv.NewReader(bytes.NewReader(content)).Read()
			require.NoError(t, err)
			for _, column := range header {
				if !standard || strings.HasPrefix(column, "metadata.") {
					assert.Contains(t, string(page), "`"+column+"`", "%s of %s", column, name)
					told++
				}
			}
		}
	}
	assert.Greater(t, told, 50)
}
