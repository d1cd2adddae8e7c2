#include "textflag.h"

// func dotAVX2(a, b *byte, n int) int32
//
// Both rows are signed bytes; n is a multiple of 32 and not 0.
TEXT ·dotAVX2(SB), NOSPLIT, $0-28
	MOVQ a+0(FP), SI
	MOVQ b+8(FP), DI
	MOVQ n+16(FP), CX
	VPXOR Y0, Y0, Y0
	VPXOR Y1, Y1, Y1

more:
	VPMOVSXBW (SI), Y2
	VPMOVSXBW (DI), Y3
	VPMADDWD  Y2, Y3, Y2
	VPADDD    Y2, Y0, Y0
	VPMOVSXBW 16(SI), Y4
	VPMOVSXBW 16(DI), Y5
	VPMADDWD  Y4, Y5, Y4
	VPADDD    Y4, Y1, Y1
	ADDQ      $32, SI
	ADDQ      $32, DI
	SUBQ      $32, CX
	JNZ       more

	VPADDD       Y1, Y0, Y0
	VEXTRACTI128 $1, Y0, X1
	VPADDD       X1, X0, X0
	VPSHUFD      $0x4E, X0, X1
	VPADDD       X1, X0, X0
	VPSHUFD      $0xB1, X0, X1
	VPADDD       X1, X0, X0
	VMOVD        X0, AX
	MOVL         AX, ret+24(FP)
	VZEROUPPER
	RET
