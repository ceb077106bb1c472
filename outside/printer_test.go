package outside

import (
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A page is in the folder whole or not at all, for the service's own user, and nothing else is ever read from there.
func TestThePrintersFolder(t *testing.T) {
	t.Parallel()
	above := t.TempDir()
	p := Printer{Folder: filepath.Join(above, "out")}
	secret := filepath.Join(above, "meldung-secret.pdf")
	require.NoError(t, os.WriteFile(secret, []byte("secret"), 0o600))
	file, err := p.Print("2026-03-10-0740-petrel-7", []byte("%PDF"))
	require.NoError(t, err)
	assert.Equal(t, "meldung-2026-03-10-0740-petrel-7.pdf", file)
	info, err := os.Stat(filepath.Join(p.Folder, file))
	require.NoError(t, err)
	assert.Equal(t, os.FileMode(0o600), info.Mode().Perm())
	again, err := p.Print("2026-03-10-0740-petrel-7", []byte("%PDF again"))
	require.NoError(t, err)
	assert.Equal(t, file, again)
	content, err := p.Read(file)
	require.NoError(t, err)
	assert.Equal(t, "%PDF again", string(content))
	left, err := os.ReadDir(p.Folder)
	require.NoError(t, err)
	assert.Len(t, left, 1, "nothing half-written")
	for _, other := range []string{"../meldung-secret.pdf", secret, "", ".", "meldung-none.pdf"} {
		assert.False(t, p.Has(other), other)
		content, err := p.Read(other)
		require.NoError(t, err, other)
		assert.Nil(t, content, other)
	}
	_, err = Printer{Folder: filepath.Join(secret, "below a file")}.Print("x", nil)
	require.ErrorContains(t, err, "folder")
}
