#include "go_asm.h"
#include "textflag.h"

// Work on one row of floats, 256 and 512 bits wide from the same macros.

// The constants in kernels.go, by their place.
#define EXPLEAST (0*64)(R11)
#define LOG2E    (1*64)(R11)
#define MAGIC    (2*64)(R11)
#define LN2HIGH  (3*64)(R11)
#define LN2LOW   (4*64)(R11)
#define E0       (5*64)(R11)
#define E1       (6*64)(R11)
#define E2       (7*64)(R11)
#define E3       (8*64)(R11)
#define E4       (9*64)(R11)
#define E5       (10*64)(R11)
#define ONE      (11*64)(R11)
#define ABS      (12*64)(R11)
#define MINUSHALF (13*64)(R11)
#define ERFC     (14*64)(R11)
#define A5       (15*64)(R11)
#define A4       (16*64)(R11)
#define A3       (17*64)(R11)
#define A2       (18*64)(R11)
#define A1       (19*64)(R11)
#define LOWEST   (20*64)(R11)

// x = exp(x) for x ≤ 0, with scratch n and t: 2ⁿ times a polynomial in what is left.
#define EXP(x, n, t) \
	VMAXPS      EXPLEAST, x, x  \
	VMOVUPS     MAGIC, n        \
	VFMADD231PS LOG2E, x, n     \
	VSUBPS      MAGIC, n, t     \
	VFMADD231PS LN2HIGH, t, x   \
	VFMADD231PS LN2LOW, t, x    \
	VPSLLD      $23, n, n       \
	VMOVUPS     E0, t           \
	VFMADD213PS E1, x, t        \
	VFMADD213PS E2, x, t        \
	VFMADD213PS E3, x, t        \
	VFMADD213PS E4, x, t        \
	VFMADD213PS E5, x, t        \
	VFMADD213PS ONE, x, t       \
	VFMADD213PS ONE, x, t       \
	VPADDD      n, t, x

// x = max(x, 0) − |x|/2 · erfc(|x|/√2), with five scratch registers and one of zeros.
#define GELU(x, a, e, u, n, t, zero) \
	VANDPS       ABS, x, a       \
	VMULPS       a, a, e         \
	VMULPS       MINUSHALF, e, e \
	VMOVUPS      ONE, t          \
	VMOVAPS      t, u            \
	VFMADD231PS  ERFC, a, u      \
	VDIVPS       u, t, u         \
	EXP(e, n, t)                 \
	VMULPS       u, e, e         \
	VMULPS       a, e, e         \
	VMOVUPS      A5, t           \
	VFMADD213PS  A4, u, t        \
	VFMADD213PS  A3, u, t        \
	VFMADD213PS  A2, u, t        \
	VFMADD213PS  A1, u, t        \
	VMAXPS       zero, x, x      \
	VFNMADD231PS t, e, x

// func geluAVX2(row []float32)
TEXT ·geluAVX2(SB), NOSPLIT, $0-24
	MOVQ  row_base+0(FP), SI
	MOVQ  row_len+8(FP), CX
	LEAQ  ·constants(SB), R11
	VPXOR Y14, Y14, Y14

next:
	VMOVUPS (SI), Y0
	VMOVUPS 32(SI), Y6
	GELU(Y0, Y1, Y2, Y3, Y4, Y5, Y14)
	GELU(Y6, Y7, Y8, Y9, Y10, Y11, Y14)
	VMOVUPS Y0, (SI)
	VMOVUPS Y6, 32(SI)
	ADDQ    $64, SI
	SUBQ    $16, CX
	JNZ     next
	VZEROUPPER
	RET

// func geluAVX512(row []float32)
TEXT ·geluAVX512(SB), NOSPLIT, $0-24
	MOVQ   row_base+0(FP), SI
	MOVQ   row_len+8(FP), CX
	LEAQ   ·constants(SB), R11
	VPXORQ Z14, Z14, Z14

next:
	VMOVUPS (SI), Z0
	VMOVUPS 64(SI), Z6
	GELU(Z0, Z1, Z2, Z3, Z4, Z5, Z14)
	GELU(Z6, Z7, Z8, Z9, Z10, Z11, Z14)
	VMOVUPS Z0, (SI)
	VMOVUPS Z6, 64(SI)
	ADDQ    $128, SI
	SUBQ    $32, CX
	JNZ     next
	VZEROUPPER
	RET

// Brings the eight numbers of Y0 together in the first, X1 being scratch.
#define TOGETHER(op) \
	VEXTRACTF128 $1, Y0, X1    \
	op           X1, X0, X0    \
	VPSHUFD      $0x4E, X0, X1 \
	op           X1, X0, X0    \
	VPSHUFD      $0xB1, X0, X1 \
	op           X1, X0, X0

// func softmaxAVX2(row []float32)
TEXT ·softmaxAVX2(SB), NOSPLIT, $0-24
	MOVQ    row_base+0(FP), SI
	MOVQ    row_len+8(FP), CX
	LEAQ    ·constants(SB), R11
	SHLQ    $2, CX
	VMOVUPS LOWEST, Y0
	XORQ    AX, AX

largest:
	VMAXPS (SI)(AX*1), Y0, Y0
	ADDQ   $32, AX
	CMPQ   AX, CX
	JLT    largest
	TOGETHER(VMAXPS)
	VBROADCASTSS X0, Y5
	VPXOR        Y6, Y6, Y6
	XORQ         AX, AX

power:
	VMOVUPS (SI)(AX*1), Y0
	VSUBPS  Y5, Y0, Y0
	EXP(Y0, Y1, Y2)
	VMOVUPS Y0, (SI)(AX*1)
	VADDPS  Y0, Y6, Y6
	ADDQ    $32, AX
	CMPQ    AX, CX
	JLT     power
	VMOVAPS Y6, Y0
	TOGETHER(VADDPS)
	VBROADCASTSS X0, Y5
	VMOVUPS      ONE, Y6
	VDIVPS       Y5, Y6, Y5
	XORQ         AX, AX

share:
	VMULPS  (SI)(AX*1), Y5, Y0
	VMOVUPS Y0, (SI)(AX*1)
	ADDQ    $32, AX
	CMPQ    AX, CX
	JLT     share
	VZEROUPPER
	RET

// func softmaxAVX512(row []float32)
// It adds up in softmaxAVX2's order, so that both give the same bits.
TEXT ·softmaxAVX512(SB), NOSPLIT, $0-24
	MOVQ    row_base+0(FP), SI
	MOVQ    row_len+8(FP), CX
	LEAQ    ·constants(SB), R11
	SHLQ    $2, CX
	VMOVUPS LOWEST, Z0
	XORQ    AX, AX

largest:
	VMAXPS (SI)(AX*1), Z0, Z0
	ADDQ   $64, AX
	CMPQ   AX, CX
	JLT    largest
	VEXTRACTF64X4 $1, Z0, Y1
	VMAXPS        Y1, Y0, Y0
	TOGETHER(VMAXPS)
	VBROADCASTSS X0, Z5
	VPXOR        Y6, Y6, Y6
	XORQ         AX, AX

power:
	VMOVUPS (SI)(AX*1), Z0
	VSUBPS  Z5, Z0, Z0
	EXP(Z0, Z1, Z2)
	VMOVUPS Z0, (SI)(AX*1)
	VEXTRACTF64X4 $1, Z0, Y1
	VADDPS  Y0, Y6, Y6
	VADDPS  Y1, Y6, Y6
	ADDQ    $64, AX
	CMPQ    AX, CX
	JLT     power
	VMOVAPS Y6, Y0
	TOGETHER(VADDPS)
	VBROADCASTSS X0, Z5
	VMOVUPS      ONE, Z6
	VDIVPS       Z5, Z6, Z5
	XORQ         AX, AX

share:
	VMULPS  (SI)(AX*1), Z5, Z0
	VMOVUPS Z0, (SI)(AX*1)
	ADDQ    $64, AX
	CMPQ    AX, CX
	JLT     share
	VZEROUPPER
	RET

// func addNormAVX2(row, add, gain, bias []float32, epsilon float32)
TEXT ·addNormAVX2(SB), NOSPLIT, $0-100
	MOVQ       row_base+0(FP), SI
	MOVQ       row_len+8(FP), CX
	MOVQ       add_base+24(FP), DI
	MOVQ       gain_base+48(FP), R8
	MOVQ       bias_base+72(FP), R9
	VCVTSI2SSQ CX, X9, X9
	SHLQ       $2, CX
	VPXOR      Y0, Y0, Y0
	XORQ       AX, AX

sum:
	VMOVUPS (SI)(AX*1), Y1
	VADDPS  (DI)(AX*1), Y1, Y1
	VMOVUPS Y1, (SI)(AX*1)
	VADDPS  Y1, Y0, Y0
	ADDQ    $32, AX
	CMPQ    AX, CX
	JLT     sum
	TOGETHER(VADDPS)
	VDIVSS       X9, X0, X0
	VBROADCASTSS X0, Y5
	VPXOR        Y0, Y0, Y0
	XORQ         AX, AX

variance:
	VMOVUPS     (SI)(AX*1), Y1
	VSUBPS      Y5, Y1, Y1
	VFMADD231PS Y1, Y1, Y0
	ADDQ        $32, AX
	CMPQ        AX, CX
	JLT         variance
	TOGETHER(VADDPS)
	VDIVSS       X9, X0, X0
	VADDSS       epsilon+96(FP), X0, X0
	VSQRTSS      X0, X0, X0
	MOVL         $0x3f800000, BX
	VMOVD        BX, X1
	VDIVSS       X0, X1, X0
	VBROADCASTSS X0, Y6
	XORQ         AX, AX

scale:
	VMOVUPS     (SI)(AX*1), Y1
	VSUBPS      Y5, Y1, Y1
	VMULPS      Y6, Y1, Y1
	VMOVUPS     (R8)(AX*1), Y2
	VFMADD213PS (R9)(AX*1), Y2, Y1
	VMOVUPS     Y1, (SI)(AX*1)
	ADDQ        $32, AX
	CMPQ        AX, CX
	JLT         scale
	VZEROUPPER
	RET

// The scale of a row goes to scale, its inverse to all of Y5.
#define SCALE(result) \
	VMOVUPS ABS, Y5            \
	VPXOR   Y0, Y0, Y0         \
	XORQ    AX, AX             \
	VANDPS  (SI)(AX*1), Y5, Y1 \
	VMAXPS  Y1, Y0, Y0         \
	ADDQ    $32, AX            \
	CMPQ    AX, CX             \
	JLT     -4(PC)             \
	TOGETHER(VMAXPS)           \
	MOVL    $0x00800000, BX    \
	VMOVD   BX, X1             \
	VMAXSS  X1, X0, X0         \
	MOVL    $0x42fe0000, BX    \
	VMOVD   BX, X2             \
	VDIVSS  X2, X0, X1         \
	VMOVSS  X1, result         \
	VDIVSS  X0, X2, X1         \
	VBROADCASTSS X1, Y5

// Packing leaves quarters of registers out of order; these places put them right.
DATA order<>+0(SB)/8, $0x0000000400000000
DATA order<>+8(SB)/8, $0x0000000500000001
DATA order<>+16(SB)/8, $0x0000000600000002
DATA order<>+24(SB)/8, $0x0000000700000003
GLOBL order<>(SB), RODATA|NOPTR, $32

// func quantiseAVX2(row []float32, out []byte) (scale float32)
TEXT ·quantiseAVX2(SB), NOSPLIT, $0-52
	MOVQ row_base+0(FP), SI
	MOVQ row_len+8(FP), CX
	MOVQ out_base+24(FP), DI
	LEAQ ·constants(SB), R11
	SHLQ $2, CX
	SCALE(scale+48(FP))
	MOVL         $0x80808080, BX
	VMOVD        BX, X6
	VPBROADCASTD X6, Y6
	VMOVDQU      order<>(SB), Y7
	XORQ         AX, AX

put:
	VMULPS    (SI)(AX*1), Y5, Y0
	VMULPS    32(SI)(AX*1), Y5, Y1
	VMULPS    64(SI)(AX*1), Y5, Y2
	VMULPS    96(SI)(AX*1), Y5, Y3
	VCVTPS2DQ Y0, Y0
	VCVTPS2DQ Y1, Y1
	VCVTPS2DQ Y2, Y2
	VCVTPS2DQ Y3, Y3
	VPACKSSDW Y1, Y0, Y0
	VPACKSSDW Y3, Y2, Y2
	VPACKSSWB Y2, Y0, Y0
	VPERMD    Y0, Y7, Y0
	VPADDB    Y6, Y0, Y0
	VMOVDQU   Y0, (DI)
	ADDQ      $32, DI
	SUBQ      $-128, AX
	CMPQ      AX, CX
	JLT       put
	VZEROUPPER
	RET

// func quantiseWideAVX2(row []float32, out []byte) (scale float32)
TEXT ·quantiseWideAVX2(SB), NOSPLIT, $0-52
	MOVQ row_base+0(FP), SI
	MOVQ row_len+8(FP), CX
	MOVQ out_base+24(FP), DI
	LEAQ ·constants(SB), R11
	SHLQ $2, CX
	SCALE(scale+48(FP))
	XORQ AX, AX

put:
	VMULPS    (SI)(AX*1), Y5, Y0
	VMULPS    32(SI)(AX*1), Y5, Y1
	VCVTPS2DQ Y0, Y0
	VCVTPS2DQ Y1, Y1
	VPACKSSDW Y1, Y0, Y0
	VPERMQ    $0xD8, Y0, Y0
	VMOVDQU   Y0, (DI)
	ADDQ      $32, DI
	ADDQ      $64, AX
	CMPQ      AX, CX
	JLT       put
	VZEROUPPER
	RET
