import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

export default defineConfig({
  plugins: [react(), tailwindcss()],
  // the lettering is the core's own font file, outside this folder
  server: { proxy: { "/api/events": "http://127.0.0.1:8711", "/api": "http://127.0.0.1:8710" }, fs: { allow: [".."] } },
  build: { chunkSizeWarningLimit: 1200 },
});
