package paint

import (
	"encoding/binary"
	"image"
	"math/bits"
	"sync"

	"github.com/jezek/xgb/xproto"
)

// pixels says colours as a screen has them: by the masks of its visual, or where it has a
// palette by what is allocated there.
type pixels struct {
	s     *Screen
	mu    *sync.Mutex // of known
	masks [3]uint32   // of red, green and blue; 0 where there is a palette
	known map[uint32]uint32
	size  int // of a pixel of a picture, in bits
	pad   int // rows of a picture are multiples of this, in bits
	order binary.ByteOrder
}

func newPixels(s *Screen) pixels {
	p := pixels{s: s, mu: &sync.Mutex{}, known: map[uint32]uint32{}, size: 32, pad: 32, order: binary.LittleEndian}
	setup := xproto.Setup(s.Conn)
	for _, f := range setup.PixmapFormats {
		if f.Depth == s.Info.RootDepth {
			p.size, p.pad = int(f.BitsPerPixel), int(f.ScanlinePad)
		}
	}
	if setup.ImageByteOrder == xproto.ImageOrderMSBFirst {
		p.order = binary.BigEndian
	}
	for _, d := range s.Info.AllowedDepths {
		for _, v := range d.Visuals {
			if v.VisualId == s.Info.RootVisual && (v.Class == xproto.VisualClassTrueColor || v.Class == xproto.VisualClassDirectColor) {
				p.masks = [3]uint32{v.RedMask, v.GreenMask, v.BlueMask}
			}
		}
	}
	return p
}

// ours tells whether pixels of the screen are colours as we write them.
func (p *pixels) ours() bool {
	return p.masks == [3]uint32{0xff0000, 0xff00, 0xff} && p.size == 32 && p.order == binary.LittleEndian
}

// of is the pixel of a colour, 0xrrggbb. On a palette it is one near it, of which there are
// few.
func (p *pixels) of(rgb uint32) (pixel uint32) {
	if p.masks == [3]uint32{} {
		return p.allocated(rgb)
	}
	for i, mask := range p.masks {
		c := rgb >> (16 - 8*i) & 0xff
		shift := bits.TrailingZeros32(mask)
		pixel |= c * (mask >> shift) / 0xff << shift
	}
	return pixel
}

// steps is how many values each of red, green and blue has on a palette.
const steps = 4

func (p *pixels) allocated(rgb uint32) uint32 {
	var c [3]uint16
	key := uint32(0)
	for i := range c {
		n := ((rgb>>(16-8*i)&0xff)*(steps-1) + 0x7f) / 0xff
		c[i] = uint16(n * 0xffff / (steps - 1))
		key = key*steps + n
	}
	p.mu.Lock()
	defer p.mu.Unlock()
	if pixel, ok := p.known[key]; ok {
		return pixel
	}
	pixel := p.s.Info.BlackPixel
	if r, err := xproto.AllocColor(p.s.Conn, p.s.Info.DefaultColormap, c[0], c[1], c[2]).Reply(); err == nil {
		pixel = r.Pixel
	}
	p.known[key] = pixel
	return pixel
}

// row appends one row of a picture as the screen has it.
func (p *pixels) row(data []byte, img *image.RGBA, y int) []byte {
	row := img.Pix[y*img.Stride:][:4*img.Rect.Dx()]
	if p.ours() {
		for ; len(row) > 0; row = row[4:] {
			data = append(data, row[2], row[1], row[0], 0)
		}
		return data
	}
	for ; len(row) > 0; row = row[4:] {
		var b [4]byte
		n := p.size / 8
		pixel := p.of(uint32(row[0])<<16 | uint32(row[1])<<8 | uint32(row[2]))
		if p.order == binary.BigEndian {
			pixel <<= 32 - p.size
		}
		p.order.PutUint32(b[:], pixel)
		data = append(data, b[:n]...)
	}
	return append(data, make([]byte, p.stride(img.Rect.Dx())-img.Rect.Dx()*p.size/8)...)
}

// stride is how many bytes a row of so many pixels takes.
func (p *pixels) stride(w int) int { return (w*p.size + p.pad - 1) / p.pad * p.pad / 8 }
