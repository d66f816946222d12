import type { NextConfig } from 'next';

const config: NextConfig = {
  // Native or worker-loading packages stay outside the bundle.
  serverExternalPackages: ['mysql2', 'exceljs', 're2js', 'imapflow', 'sharp', 'html-to-text', 'mailparser', 'busboy', 'joi', 'joi-to-json', 'ajv', 'yaml'],
  poweredByHeader: false,
  devIndicators: false,
  turbopack: { root: import.meta.dirname },
};

export default config;
