/** Materials to begin with: ordinary densities as handbooks round them. Yours are in the Ledger, where these too can be changed. */
export const MATERIALS: readonly (readonly [name: string, density: string])[] = [
  ['Steel', '7850 kg/m^3'], ['Stainless steel', '7900 kg/m^3'], ['Cast iron', '7200 kg/m^3'], ['Aluminium', '2700 kg/m^3'], ['Brass', '8500 kg/m^3'], ['Bronze', '8800 kg/m^3'], ['Copper', '8960 kg/m^3'],
  ['Titanium', '4500 kg/m^3'], ['Magnesium', '1750 kg/m^3'], ['Lead', '11340 kg/m^3'], ['Polyamide', '1140 kg/m^3'], ['POM', '1410 kg/m^3'], ['Polyethylene', '950 kg/m^3'], ['PVC', '1380 kg/m^3'],
  ['Rubber', '1150 kg/m^3'], ['Glass fibre composite', '1900 kg/m^3'], ['Carbon fibre composite', '1550 kg/m^3'], ['Beech', '720 kg/m^3'], ['Spruce', '450 kg/m^3'], ['Concrete', '2400 kg/m^3'], ['Glass', '2500 kg/m^3'], ['Water', '1000 kg/m^3'],
];
