// Package barcode draws codes for readers and phones as pictures.
package barcode

import (
	"bytes"
	"fmt"
	"image/png"

	"github.com/boombuler/barcode"
	"github.com/boombuler/barcode/qr"
)

// QR returns a text as a QR code (ISO/IEC 18004, error correction M) in a square
// PNG of so many pixels, without the quiet zone of four modules that has to be left
// around it.
func QR(text string, pixels int) ([]byte, error) {
	code, err := qr.Encode(text, qr.M, qr.Auto)
	if err != nil {
		return nil, fmt.Errorf("encoding %q as a QR code: %w", text, err)
	}
	return picture(code, pixels, pixels)
}

func picture(code barcode.Barcode, width, height int) ([]byte, error) {
	scaled, err := barcode.Scale(code, width, height)
	if err != nil {
		return nil, fmt.Errorf("drawing a code %d × %d pixels: %w", width, height, err)
	}
	var out bytes.Buffer
	if err := png.Encode(&out, scaled); err != nil {
		return nil, err
	}
	return out.Bytes(), nil
}
