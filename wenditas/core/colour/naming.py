"""Colours by the names that people give them: the table behind `names`.

Source: the colour naming survey of xkcd (Munroe 2010; 222,500 people named colours on their screens; CC0), as the package matplotlib
carries it (`XKCD_COLORS`). From it are taken the names that end in one of the words below, or in one of `ALSO`.
"""

ALSO = {
    "Teal": "turquoise cyan aqua",
    "Purple": "violet lavender lilac mauve plum",
    "Pink": "magenta fuchsia rose salmon",
    "Beige": "tan cream",
    "Grey": "gray",
    "Yellow": "gold mustard ochre",
    "Green": "olive",
    "Blue": "navy",
    "Red": "maroon crimson scarlet",
    "Brown": "chocolate",
}

PEOPLE_SAY: dict[str, str] = {
    "Red": (
        "3c0008 650021 7b0323 840000 850e04 8c000f 8f1402 922b05 980002 990147 9a0200 9e3623 9f2305 a24857 a50055 a90308 aa2704 af2f0d "
        "b0054b b9484e bb3f3f be0119 be013c c0022f d3494e d9544d db5856 e50000 ec2d01 f10c45 f43605 f5054f f7022a fa4224 fc2647 fd411e "
        "fe0002 fe2f4a ff000d ff073a ff474c"
    ),
    "Orange": (
        "b96902 c04e01 c14a09 c45508 c65102 c87606 ca6b02 cb7723 cd5909 d8863b dc4d01 f0833a f0944d f8481c f97306 fb7d07 fcb001 fd3c06 "
        "fdaa48 fe4b03 ff5b00 ff724c ff964f ffa756 ffab0f"
    ),
    "Yellow": (
        "a88905 b29705 b59410 b5ce08 bf9005 bfac05 c2b709 c2be0e c6f808 c7c10c c9b003 c9ff27 cb9d06 cdc50a cdfd02 ceb301 cfff04 d0c101 "
        "d0e429 d0fe1d d2bd0a d5ab09 d5b60a dbb40c ddd618 eedc5b f1f33f f7d560 fafe4b fce166 fdb915 fddc5c fdde6c fdee73 fdff38 fec615 "
        "feff7f ffad01 ffda03 ffdf22 fff917 fffd01 fffd37 fffd74 fffe40 fffe71 fffe7a ffff14 ffff84"
    ),
    "Green": (
        "002d04 005249 009337 014600 019529 01ff07 02590f 028f1e 02ab2e 02c14d 033500 044a05 048243 04f489 05480d 05ffa6 062e03 06470c "
        "089404 08ff08 0a481e 0add08 0aff02 0b4008 0bf77d 0cdc73 0cff0c 0f9b8e 10a674 11875d 12e193 137e6d 154406 15b01a 1bfc06 20c073 "
        "21c36f 21fc0d 25a36f 25ff29 287c37 2a7e19 2baf6a 2bb179 2cfa1f 2dfe54 2fef10 33b864 35530a 35ad6b 373e02 388004 39ad48 3ae57f "
        "3c4d03 3d9973 3eaf76 3f9b0b 40fd14 419c03 4b5d16 4b6113 4da409 4efd54 4f9153 50a747 51b73b 526525 53fca1 53fe5c 548d44 56ae57 "
        "58bc08 5c8b15 5ca904 5cb200 5fa052 606602 61de2a 61e160 638b27 63b365 657432 658b38 658d6d 65fe08 667c3e 667e2c 677a04 699d4c "
        "69d84f 6a6e09 6ba353 6c7a0e 6e750e 6f6c0a 6f7c00 6fc276 706c11 70b23f 728639 728f02 748500 749551 74a662 758000 75b84f 75fd63 "
        "76a973 76cd26 76fda8 789b73 7a9703 7af9ab 7bb274 7ebd01 7efbb3 82a67d 86a17d 87a922 889717 88b378 89a203 89fe05 8cfd7e 8cff9e "
        "8eab12 8ee53f 8f9805 8fae22 8ffe09 8fff9f 90fda9 94a617 94ac02 94b21c 96b403 96f97b 98f6b0 99cc04 9aae07 9af764 9be5aa 9cbb04 "
        "9db92c 9dc100 9dff00 a0bf16 a4be5c a6c875 a6fbb2 a7ffb5 a8b504 a9be70 a9f971 acbf69 adf802 b0dd16 b0ff9d b1d27b b1fc99 b1ff65 "
        "b2fba5 b6c406 b7e1a1 b9cc81 b9ff66 bcf5a6 bdf8a3 bff128 c0fb2d c2ff89 c4fe82 c7fdb5 c8fd3d c8ffb0 ccfd7f cffdbc d1ffbd"
    ),
    "Teal": (
        "00555a 00fbb0 00ffff 014d4e 017374 01f9c6 029386 045c5a 05696b 06c2ac 08787f 0a888a 0bf9ea 0cb577 0ffef9 13eac9 2afeb7 32bf84 "
        "41fdfe 4c9085 5e9b8a 5f9e8f 719f91 7ef4cc 82cbb2 8cffdb 90e4c1 a5fbd5 acfffc b7fffa b8ffeb"
    ),
    "Blue": (
        "000133 00022e 00035b 000435 001146 004577 010fcc 01153e 01386a 014182 015482 0165fc 016795 01889f 01c08d 020035 0203e2 02066f "
        "021bf9 02ccfe 02d8e9 030aa7 0339f8 0343df 03719c 040273 040348 047495 04d9ff 0504aa 056eee 0652ff 06b1c4 06b48b 0804f9 0a437a "
        "0b8b87 0c06f7 0d75f8 0e87cc 107ab0 152eff 155084 1805db 1f6357 214761 2242c7 247afd 26538d 26f7fd 276ab3 29465b 2c6fbb 2e5a88 "
        "31668a 3778bf 3a18b1 3a2efe 3b5b92 3b719f 3c73a8 3d7afd 3e82fc 3f829d 42b395 436bad 448ee4 475f94 49759c 4984b8 4b57db 4e7496 "
        "4f738e 507b9c 510ac9 5170d7 5684ae 56fca2 5a7d9a 5a86ad 5b7c99 5d21d0 5e819d 5f34e7 601ef9 6140ef 632de9 63f7b4 647d8e 6488ea "
        "658cbb 661aee 6b8ba4 75bbfd 78d1b6 7bf2da 8ab8fe 8af1fe 8b88f8 8f99fb 95d0fc 98eff9 9dbcd4 a2bffe a2cffe acc2d9 b1d1fc bdf6fe "
        "c3fbf4 c4fff7 c6fcff cafffb d0fefe d4ffff d5ffff d6fffe d7fffe"
    ),
    "Purple": (
        "280137 2a0134 34013f 35063e 36013f 3f012c 430541 490648 4b006e 4e0550 533cc6 5729ce 580f41 5a06ef 5d06e9 5d1451 6241c7 703be7 "
        "720058 734a65 751973 76424e 7e1e9c 805b87 820747 825f87 826d8c 84597e 856798 874c62 887191 895b7b 8d5eb7 910951 916e99 952e8f "
        "966ebd 9900fa 9a0eea 9c6da5 9d5783 9e0168 9e43a2 a00498 a442a0 a552e6 a55af4 a66fb5 aa23ff ac86a8 ad03de ad0afd ae7181 b790d4 "
        "bc13fe be03fd bf77f6 c071fe c292a1 c760ff c79fef c94cbe c95efb ca9bf7 caa0ff cb00f5 cea2fd ceaefa d648d7 d6b4fc db4bda dfc5fe "
        "e4cbff edc8ff eecffe ef1de7 f6cefc fed0fc"
    ),
    "Pink": (
        "960056 9d0759 a0025c b5485d ba6873 c0737a c20078 c27e79 c3909b c74767 c77986 c83cb9 c85a53 c87f89 c88d94 ca7b80 cb0162 cb416b "
        "cc7a8b cd7584 ce5dae cf6275 d1768f d5869d d58a94 d725de d767ad d90166 da467d dd85d7 de9dac df4ec8 e03fd8 e78ea5 ed0dd9 f075e6 "
        "f36196 f504c9 f6688e f7879a fa2a55 fa5ff7 fb5581 fb5ffc fdb0c0 fdc1c5 fe019a fe01b1 fe02a2 fe2c54 fe46a5 fe7b7c fe828c fe83cc "
        "fea993 ff028d ff0490 ff0789 ff08e8 ff6163 ff63e9 ff69af ff6f52 ff796c ff7fa7 ff81c0 ff9a8a ffb19a ffb2d0 ffb7ce ffbacd ffc5cb "
        "ffcfdc ffd1df fff4f2"
    ),
    "Brown": (
        "1d0200 341c02 3d1c02 410200 411900 544e03 60460f 645403 653700 673a3f 696006 696112 6b4247 6e1005 7a5901 7a6a4f 7b5804 7d7103 "
        "7f2b0a 7f4e1e 7f5112 7f7053 836539 876e4b 885f01 886806 8b2e16 8b3103 947706 964e02 9b7a01 ab7e4c ac7e04 ad8150 ad900d ae8b0c "
        "b16002 b17261 b1916e b25f03 b2713d b27a01 b79400 be6400 c4a661 cba560 d3b683"
    ),
    "Beige": "ac9362 af884a bccb7a c9d179 d1b26f d99b82 e6daa6 fbeeac fcfc81 ffe36e fff39a fffeb6 ffffc2",
    "Black": "000000 070d0d",
    "Grey": (
        "1f3b4d 363737 3c4142 59656d 607c8e 6b7c85 6f828a 748b97 758da3 77926f 7a687f 7d7f7c 7ea07a 866f85 86775f 89a0b0 8d8468 929591 "
        "947e94 95a3a6 96ae8d 978a84 997570 b7c9e2 c8aca9 d8dcd6 fdfdfe"
    ),
    "White": "ffffe4 ffffff",
}
