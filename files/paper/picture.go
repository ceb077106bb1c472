package paper

import (
	"bytes"
	"fmt"
	"image"
	_ "image/jpeg" // photos often are
	"image/png"
	"sync"

	"golang.org/x/image/draw"
)

const (
	largestFile  = 4 << 20 // bytes
	largestSide  = 6000    // pixels that are read
	largestArea  = 24e6    // pixels that are read: 100 MB while they are made smaller
	longestKept  = 400     // pixels that are kept: 34 mm at 300 dots to the inch
	shortestSide = 16
)

// atOnce has one picture made smaller at a time: however many come, they take the memory of one.
var atOnce sync.Mutex

// Picture reads a PNG or JPEG and returns it as a PNG of 400 pixels at most on its longer
// side, which is enough for what is printed here. Anything else is an error that says why.
func Picture(content []byte) ([]byte, error) {
	if len(content) > largestFile {
		return nil, fmt.Errorf("the picture is larger than %d MB", largestFile>>20)
	}
	head, _, err := image.DecodeConfig(bytes.NewReader(content))
	if err != nil {
		return nil, fmt.Errorf("the file is no PNG or JPEG picture")
	}
	if head.Width > largestSide || head.Height > largestSide || head.Width < shortestSide || head.Height < shortestSide {
		return nil, fmt.Errorf("the picture is %d × %d pixels: %d to %d a side can be used", head.Width, head.Height, shortestSide, largestSide)
	}
	if head.Width*head.Height > largestArea {
		return nil, fmt.Errorf("the picture has %d million pixels: %d million can be used", head.Width*head.Height/1e6, int(largestArea/1e6))
	}
	atOnce.Lock()
	defer atOnce.Unlock()
	full, _, err := image.Decode(bytes.NewReader(content))
	if err != nil {
		return nil, fmt.Errorf("the picture is damaged: %w", err)
	}
	longer := max(head.Width, head.Height)
	width, height := head.Width, head.Height
	if longer > longestKept {
		width, height = max(1, width*longestKept/longer), max(1, height*longestKept/longer)
	}
	kept := image.NewNRGBA(image.Rect(0, 0, width, height))
	draw.CatmullRom.Scale(kept, kept.Bounds(), full, full.Bounds(), draw.Src, nil)
	var out bytes.Buffer
	if err := png.Encode(&out, kept); err != nil {
		return nil, err
	}
	return out.Bytes(), nil
}
