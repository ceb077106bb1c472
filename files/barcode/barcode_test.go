package barcode

import (
	"bytes"
	"image"
	"image/color"
	"image/draw"
	"image/png"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"github.com/makiuchi-d/gozxing"
	"github.com/makiuchi-d/gozxing/oned"
	zxing "github.com/makiuchi-d/gozxing/qrcode"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// framed puts a picture on white with a quiet zone, as a page does.
func framed(t *testing.T, data []byte) image.Image {
	t.Helper()
	code, err := png.Decode(bytes.NewReader(data))
	require.NoError(t, err)
	b := code.Bounds()
	out := image.NewGray(image.Rect(0, 0, b.Dx()+80, b.Dy()+80))
	draw.Draw(out, out.Bounds(), image.NewUniform(color.White), image.Point{}, draw.Src)
	draw.Draw(out, b.Add(image.Pt(40, 40)), code, b.Min, draw.Src)
	return out
}

var texts = []string{
	"http://127.0.0.1:8321/check-in?c=048213",
	"https://attendance.fairlead.example/check-in?c=999999",
	"ØÅ Zażółć gęślą jaźń 0123456789 " + strings.Repeat("x", 120),
}

func TestAQRCodeIsReadBackByAReaderInGo(t *testing.T) {
	for _, text := range texts {
		data, err := QR(text, 400)
		require.NoError(t, err)
		bitmap, err := gozxing.NewBinaryBitmapFromImage(framed(t, data))
		require.NoError(t, err)
		read, err := zxing.NewQRCodeReader().Decode(bitmap, nil)
		require.NoError(t, err, text)
		assert.Equal(t, text, read.GetText())
	}
}

// readByZbar reads a code with zbarimg, of Debian's zbar-tools.
func readByZbar(t *testing.T, data []byte, kind string) string {
	t.Helper()
	file := filepath.Join(t.TempDir(), "code.png")
	var out bytes.Buffer
	require.NoError(t, png.Encode(&out, framed(t, data)))
	require.NoError(t, os.WriteFile(file, out.Bytes(), 0o600))
	read, err := exec.Command("zbarimg", "--quiet", "--raw", "-S*.disable", "-S"+kind+".enable", file).Output()
	require.NoError(t, err)
	return strings.TrimSpace(string(read))
}

func TestAQRCodeIsReadBackByZbar(t *testing.T) {
	for _, text := range texts {
		data, err := QR(text, 400)
		require.NoError(t, err)
		assert.Equal(t, text, readByZbar(t, data, "qrcode"))
	}
}

func TestACode39IsReadBackByBothReaders(t *testing.T) {
	for _, text := range []string{"FL740217", "0123456789", "PASS-2026/03.10 $+%"} {
		data, err := Code39(text, false, 900, 120)
		require.NoError(t, err)
		assert.Equal(t, text, readByZbar(t, data, "code39"))
		bitmap, err := gozxing.NewBinaryBitmapFromImage(framed(t, data))
		require.NoError(t, err)
		read, err := oned.NewCode39Reader().Decode(bitmap, nil)
		require.NoError(t, err)
		assert.Equal(t, text, read.GetText())

		checked, err := Code39(text, true, 900, 120)
		require.NoError(t, err)
		bitmap, err = gozxing.NewBinaryBitmapFromImage(framed(t, checked))
		require.NoError(t, err)
		read, err = oned.NewCode39ReaderWithCheckDigitFlag(true).Decode(bitmap, nil)
		require.NoError(t, err)
		assert.Equal(t, text, read.GetText())
	}
	_, err := Code39("łódź", false, 900, 120)
	assert.ErrorContains(t, err, "as Code 39")
}

func TestWhatCannotBeDrawnIsSaid(t *testing.T) {
	_, err := QR(strings.Repeat("x", 5000), 400)
	assert.ErrorContains(t, err, "as a QR code")
	_, err = QR("http://127.0.0.1", 5)
	assert.ErrorContains(t, err, "5 × 5")
}
