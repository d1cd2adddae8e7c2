#include "go_asm.h"
#include "textflag.h"

// Tiles of integers; see intTile.

#define LOAD \
	MOVQ t+0(FP), BX           \
	MOVQ intTile_steps(BX), CX \
	MOVQ intTile_a(BX), SI     \
	MOVQ intTile_aNext(BX), R8 \
	MOVQ intTile_b(BX), DI     \
	MOVQ intTile_bNext(BX), R9

#define LOADOUT \
	MOVQ intTile_scale(BX), AX  \
	MOVQ intTile_rows(BX), DX   \
	MOVQ intTile_c(BX), R12     \
	MOVQ intTile_cNext(BX), R13 \
	SHLQ $2, R13                \
	MOVQ intTile_bias(BX), BX

// The offset of a's bytes adds 128 times the sum of each column: sums begin with that
// taken away.
#define BEGIN \
	MOVQ      intTile_sum(BX), R11 \
	VPXORD    Z31, Z31, Z31        \
	VPSLLD    $7, (R11), Z0        \
	VPSLLD    $7, 64(R11), Z1      \
	VPSUBD    Z0, Z31, Z0          \
	VPSUBD    Z1, Z31, Z1

#define COPY(to0, to1) \
	VMOVDQA32 Z0, to0 \
	VMOVDQA32 Z1, to1

// Four numbers of a row by four of each of 32 columns.
#define STEP(a, sum0, sum1) \
	VPBROADCASTD a, Z30        \
	VPDPBUSD     Z28, Z30, sum0 \
	VPDPBUSD     Z29, Z30, sum1

#define COLUMNS \
	VMOVUPS (AX), Z16   \
	VMOVUPS 64(AX), Z17 \
	VMOVUPS (BX), Z18   \
	VMOVUPS 64(BX), Z19

#define PUT(row, sum0, sum1) \
	VCVTDQ2PS    sum0, sum0      \
	VCVTDQ2PS    sum1, sum1      \
	VBROADCASTSS (4*row)(DX), Z20 \
	VMULPS       Z16, sum0, sum0 \
	VMULPS       Z17, sum1, sum1 \
	VFMADD213PS  Z18, Z20, sum0  \
	VFMADD213PS  Z19, Z20, sum1  \
	VMOVUPS      sum0, (R12)     \
	VMOVUPS      sum1, 64(R12)   \
	ADDQ         R13, R12

// func dotVNNI8(t *intTile)
TEXT ·dotVNNI8(SB), NOSPLIT, $0-8
	LOAD
	LEAQ (R8)(R8*2), R10
	LEAQ (SI)(R8*4), DX
	BEGIN
	COPY(Z2, Z3)
	COPY(Z4, Z5)
	COPY(Z6, Z7)
	COPY(Z8, Z9)
	COPY(Z10, Z11)
	COPY(Z12, Z13)
	COPY(Z14, Z15)

step:
	VMOVDQU32 (DI), Z28
	VMOVDQU32 (DI)(R9*1), Z29
	STEP((SI), Z0, Z1)
	STEP((SI)(R8*1), Z2, Z3)
	STEP((SI)(R8*2), Z4, Z5)
	STEP((SI)(R10*1), Z6, Z7)
	STEP((DX), Z8, Z9)
	STEP((DX)(R8*1), Z10, Z11)
	STEP((DX)(R8*2), Z12, Z13)
	STEP((DX)(R10*1), Z14, Z15)
	ADDQ $64, DI
	ADDQ $4, SI
	ADDQ $4, DX
	DECQ CX
	JNZ  step

	LOADOUT
	COLUMNS
	PUT(0, Z0, Z1)
	PUT(1, Z2, Z3)
	PUT(2, Z4, Z5)
	PUT(3, Z6, Z7)
	PUT(4, Z8, Z9)
	PUT(5, Z10, Z11)
	PUT(6, Z12, Z13)
	PUT(7, Z14, Z15)
	VZEROUPPER
	RET

// func dotVNNI4(t *intTile)
TEXT ·dotVNNI4(SB), NOSPLIT, $0-8
	LOAD
	LEAQ (R8)(R8*2), R10
	BEGIN
	COPY(Z2, Z3)
	COPY(Z4, Z5)
	COPY(Z6, Z7)

step:
	VMOVDQU32 (DI), Z28
	VMOVDQU32 (DI)(R9*1), Z29
	STEP((SI), Z0, Z1)
	STEP((SI)(R8*1), Z2, Z3)
	STEP((SI)(R8*2), Z4, Z5)
	STEP((SI)(R10*1), Z6, Z7)
	ADDQ $64, DI
	ADDQ $4, SI
	DECQ CX
	JNZ  step

	LOADOUT
	COLUMNS
	PUT(0, Z0, Z1)
	PUT(1, Z2, Z3)
	PUT(2, Z4, Z5)
	PUT(3, Z6, Z7)
	VZEROUPPER
	RET

// Four numbers of a row, 16 bits each, by four of each of eight columns; each column has
// two sums side by side.
#define STEPY(a, sum0, sum1) \
	VPBROADCASTQ a, Y11       \
	VPMADDWD     Y8, Y11, Y12 \
	VPMADDWD     Y9, Y11, Y13 \
	VPADDD       Y12, sum0, sum0 \
	VPADDD       Y13, sum1, sum1

// Adds up neighbours, which leaves the columns' quarters out of order.
#define PUTY(row, sum0, sum1) \
	VPHADDD      sum1, sum0, sum0  \
	VPERMQ       $0xD8, sum0, sum0 \
	VCVTDQ2PS    sum0, sum0        \
	VBROADCASTSS (4*row)(DX), Y12  \
	VMULPS       (AX), sum0, sum0  \
	VFMADD213PS  (BX), Y12, sum0   \
	VMOVUPS      sum0, (R12)       \
	ADDQ         R13, R12

// func dotAVX2(t *intTile)
TEXT ·dotAVX2(SB), NOSPLIT, $0-8
	LOAD
	LEAQ  (SI)(R8*2), DX
	VPXOR Y0, Y0, Y0
	VPXOR Y1, Y1, Y1
	VPXOR Y2, Y2, Y2
	VPXOR Y3, Y3, Y3
	VPXOR Y4, Y4, Y4
	VPXOR Y5, Y5, Y5
	VPXOR Y6, Y6, Y6
	VPXOR Y7, Y7, Y7

step:
	VPMOVSXBW (DI), Y8
	VPMOVSXBW 16(DI), Y9
	STEPY((SI), Y0, Y1)
	STEPY((SI)(R8*1), Y2, Y3)
	STEPY((DX), Y4, Y5)
	STEPY((DX)(R8*1), Y6, Y7)
	ADDQ $64, DI
	ADDQ $8, SI
	ADDQ $8, DX
	DECQ CX
	JNZ  step

	LOADOUT
	PUTY(0, Y0, Y1)
	PUTY(1, Y2, Y3)
	PUTY(2, Y4, Y5)
	PUTY(3, Y6, Y7)
	VZEROUPPER
	RET
