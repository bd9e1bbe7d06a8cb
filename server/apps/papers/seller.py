"""Who sells: the head and foot of every document."""

SELLER = {
    "name": "Quillfen Growers' Supply",
    "street": "4 Weighbridge Yard",
    "country": "QF",
    "town": "Northgate QF1 2NG",
    "email": "sales@quillfen.example",
    "phone": "+44 1632 960 100",
    "tax_number": "Tax number QF 000 118 402",
    "bank": "Fenmarket Bank, account QF00 0000 0118 4020",
}
