/** Invented names and goods; nothing here exists. */
export const COMPANIES = [
  'Bramholt Cordage', 'Nettleby & Sons', 'Ossian Marine Supply', 'Fennick Packaging', 'Tarrow Works', 'Hexley Provisions', 'Quillan Timber', 'Dovrin Electrical', 'Wrenmouth Paint Company',
  'Abersly Print', 'Colvane Hydraulics', 'Marrick Instruments', 'Pellow Refrigeration', 'Stannet Glass', 'Yarrowdale Feeds', 'Lindock Fasteners', 'Gorsby Cleaning Services', 'Ennerfold Trading',
  'Hollin Bay Supplies', 'Tressel Engineering', 'Vardy Bros.', 'Oakmere Stationers', 'Penhallick Rope and Sail', 'Runnock Fuels', 'Saltreach Chandlers', 'Thornwick Tools',
] as const;
export const SUFFIXES = ['Ltd', 'Limited', 'GmbH', 'BV', 'SA', '', '', 'Co.'] as const;
export const STREETS = ['Kiln Lane', 'Harbour Street', 'Mill Road', 'Station Yard', 'Quarry Hill', 'Old Tannery Road', 'Market Row', 'Bridge Street', 'Chapel Walk', 'Foundry Square'] as const;
export const TOWNS = ['Hallan', 'Port Ennet', 'Dunmarrow', 'Wester Voe', 'Skarrow', 'Ballock', 'Ormsley', 'Tarn Cross', 'Fenby', 'Lower Strand'] as const;
export const CUSTOMERS = ['Skarrow Quay Co-operative', 'Fenby Boatyard', 'Tarn Cross Bakery', 'Ormsley School Kitchens', 'Lower Strand Campsite', 'Dunmarrow Brewery', 'Wester Voe Cannery'] as const;
export const GOODS = [
  'Braided rope 12 mm', 'Galvanised shackle', 'Marine varnish, gloss', 'Nitrile gloves, box of 100', 'Hydraulic hose assembly', 'Stainless bolt M8 x 40', 'Anti-fouling paint, red', 'LED deck lamp 24 V', 'Bilge pump 2000', 'Fish box lids',
  'Copy paper A4', 'Toner cartridge, black', 'Plywood sheet 18 mm', 'Diesel filter', 'Sealing compound, grey', 'Safety boots size 43', 'First-aid kit refill', 'Cable drum 3 x 2.5', 'Grease cartridge', 'Cleaning concentrate',
  'Pallet wrap', 'Label rolls 100 x 150', 'Wheel bearing', 'V-belt', 'Thermostat housing', 'Window pane, tempered', 'Steel rope clip', 'Work light, magnetic', 'Battery 12 V 100 Ah', 'Inspection of the cold room',
] as const;
export const REMARKS = ['as agreed by telephone with the harbour office', 'delivered to the north gate after hours', 'replaces the part sent back in spring, colour as before', 'packed in two boxes, keep dry and out of the sun', 'including fitting and removal of the old one', 'for the ice plant, second compressor'] as const;
export const UNITS = ['pcs', 'box', 'm', 'kg', 'roll', 'set', 'l', 'hours'] as const;
