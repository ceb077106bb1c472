package demo

import (
	"bytes"
	"image"
	"image/color"
	"image/png"
	"math"
)

// emblemPicture draws the school's emblem as PNG: a fairlead's ring with a rope through it.
func emblemPicture() ([]byte, error) {
	const side, middle = 240, 120.0
	sea, needle := color.NRGBA{0x0c, 0x5a, 0x63, 0xff}, color.NRGBA{0xe9, 0xb4, 0x4c, 0xff}
	picture := image.NewNRGBA(image.Rect(0, 0, side, side))
	for y := range side {
		for x := range side {
			dx, dy := float64(x)+0.5-middle, float64(y)+0.5-middle
			across := math.Abs(dx+dy) / math.Sqrt2 // from the rope's middle line
			switch from := math.Hypot(dx, dy); {
			case from > 112:
			case from > 78:
				picture.Set(x, y, sea)
			case across < 16:
				picture.Set(x, y, needle)
			}
		}
	}
	var out bytes.Buffer
	err := png.Encode(&out, picture)
	return out.Bytes(), err
}
