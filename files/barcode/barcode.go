// Package barcode draws codes for readers and phones as pictures.
package barcode

import (
	"bytes"
	"fmt"
	"image"
	"image/color"
	"image/draw"
	"image/png"

	"github.com/boombuler/barcode"
	"github.com/boombuler/barcode/code39"
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

// Code39 returns a text of digits, capitals, space and - . $ / + % as a Code 39
// (ISO/IEC 16388), with its check character if asked for, in a PNG of so many pixels,
// without the quiet zone of ten modules on either side.
func Code39(text string, check bool, width, height int) ([]byte, error) {
	code, err := code39.Encode(text, check, false)
	if err != nil {
		return nil, fmt.Errorf("encoding %q as Code 39: %w", text, err)
	}
	return picture(code, width, height)
}

// Code39Modules returns a Code 39 as Code39 does, without its check character, whose
// narrowest bar is so many pixels wide: print and scanners like whole ones.
func Code39Modules(text string, pixels, height int) ([]byte, error) {
	code, err := code39.Encode(text, false, false)
	if err != nil {
		return nil, fmt.Errorf("encoding %q as Code 39: %w", text, err)
	}
	return picture(code, code.Bounds().Dx()*pixels, height)
}

func picture(code barcode.Barcode, width, height int) ([]byte, error) {
	scaled, err := barcode.Scale(code, width, height)
	if err != nil {
		return nil, fmt.Errorf("drawing a code %d × %d pixels: %w", width, height, err)
	}
	plain := image.NewPaletted(scaled.Bounds(), color.Palette{color.White, color.Black})
	draw.Draw(plain, plain.Bounds(), scaled, scaled.Bounds().Min, draw.Src)
	var out bytes.Buffer
	if err := png.Encode(&out, plain); err != nil {
		return nil, err
	}
	return out.Bytes(), nil
}
