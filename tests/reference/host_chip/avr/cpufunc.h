#pragma once
#define _NOP() ((void)0)
