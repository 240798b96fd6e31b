import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

export default defineConfig({
  plugins: [react(), tailwindcss()],
  server: { host: "127.0.0.1", proxy: { "/api": { target: "http://127.0.0.1:8014" } } },
  build: { target: "es2022", chunkSizeWarningLimit: 1600 },
});
