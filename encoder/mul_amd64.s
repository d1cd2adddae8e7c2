#include "go_asm.h"
#include "textflag.h"

// Tiles of floats; see floatTile.

#define LOAD \
	MOVQ t+0(FP), BX             \
	MOVQ floatTile_steps(BX), CX \
	MOVQ floatTile_a(BX), SI     \
	MOVQ floatTile_aNext(BX), R8 \
	MOVQ floatTile_b(BX), DI     \
	MOVQ floatTile_bRow(BX), R9  \
	MOVQ floatTile_bNext(BX), R10 \
	MOVQ floatTile_bias(BX), R11 \
	MOVQ floatTile_c(BX), R12    \
	MOVQ floatTile_cNext(BX), R13 \
	SHLQ $2, R8                  \
	SHLQ $2, R9                  \
	SHLQ $2, R10                 \
	SHLQ $2, R13

#define BEGIN \
	VMOVUPS (R11), Z0   \
	VMOVUPS 64(R11), Z1

#define COPY(to0, to1) \
	VMOVAPS Z0, to0 \
	VMOVAPS Z1, to1

// A number of a row by one of each of 32 columns.
#define STEP(a, sum0, sum1) \
	VBROADCASTSS a, Z30         \
	VFMADD231PS  Z28, Z30, sum0 \
	VFMADD231PS  Z29, Z30, sum1

#define PUT(sum0, sum1) \
	VMOVUPS sum0, (R12)   \
	VMOVUPS sum1, 64(R12) \
	ADDQ    R13, R12

// func mulAVX512x8(t *floatTile)
TEXT ·mulAVX512x8(SB), NOSPLIT, $0-8
	LOAD
	LEAQ (R8)(R8*2), AX
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
	VMOVUPS (DI), Z28
	VMOVUPS (DI)(R10*1), Z29
	STEP((SI), Z0, Z1)
	STEP((SI)(R8*1), Z2, Z3)
	STEP((SI)(R8*2), Z4, Z5)
	STEP((SI)(AX*1), Z6, Z7)
	STEP((DX), Z8, Z9)
	STEP((DX)(R8*1), Z10, Z11)
	STEP((DX)(R8*2), Z12, Z13)
	STEP((DX)(AX*1), Z14, Z15)
	ADDQ R9, DI
	ADDQ $4, SI
	ADDQ $4, DX
	DECQ CX
	JNZ  step

	PUT(Z0, Z1)
	PUT(Z2, Z3)
	PUT(Z4, Z5)
	PUT(Z6, Z7)
	PUT(Z8, Z9)
	PUT(Z10, Z11)
	PUT(Z12, Z13)
	PUT(Z14, Z15)
	VZEROUPPER
	RET

// func mulAVX512x4(t *floatTile)
TEXT ·mulAVX512x4(SB), NOSPLIT, $0-8
	LOAD
	LEAQ (R8)(R8*2), AX
	BEGIN
	COPY(Z2, Z3)
	COPY(Z4, Z5)
	COPY(Z6, Z7)

step:
	VMOVUPS (DI), Z28
	VMOVUPS (DI)(R10*1), Z29
	STEP((SI), Z0, Z1)
	STEP((SI)(R8*1), Z2, Z3)
	STEP((SI)(R8*2), Z4, Z5)
	STEP((SI)(AX*1), Z6, Z7)
	ADDQ R9, DI
	ADDQ $4, SI
	DECQ CX
	JNZ  step

	PUT(Z0, Z1)
	PUT(Z2, Z3)
	PUT(Z4, Z5)
	PUT(Z6, Z7)
	VZEROUPPER
	RET

// A number of a row by one of each of 16 columns.
#define STEPY(a, sum0, sum1) \
	VBROADCASTSS a, Y14         \
	VFMADD231PS  Y12, Y14, sum0 \
	VFMADD231PS  Y13, Y14, sum1

#define PUTY(sum0, sum1) \
	VMOVUPS sum0, (R12)   \
	VMOVUPS sum1, 32(R12) \
	ADDQ    R13, R12

// func mulAVX2x4(t *floatTile)
TEXT ·mulAVX2x4(SB), NOSPLIT, $0-8
	LOAD
	LEAQ    (SI)(R8*2), DX
	VMOVUPS (R11), Y0
	VMOVUPS 32(R11), Y1
	VMOVAPS Y0, Y2
	VMOVAPS Y1, Y3
	VMOVAPS Y0, Y4
	VMOVAPS Y1, Y5
	VMOVAPS Y0, Y6
	VMOVAPS Y1, Y7

step:
	VMOVUPS (DI), Y12
	VMOVUPS 32(DI), Y13
	STEPY((SI), Y0, Y1)
	STEPY((SI)(R8*1), Y2, Y3)
	STEPY((DX), Y4, Y5)
	STEPY((DX)(R8*1), Y6, Y7)
	ADDQ R9, DI
	ADDQ $4, SI
	ADDQ $4, DX
	DECQ CX
	JNZ  step

	PUTY(Y0, Y1)
	PUTY(Y2, Y3)
	PUTY(Y4, Y5)
	PUTY(Y6, Y7)
	VZEROUPPER
	RET
