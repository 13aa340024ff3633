import { defineConfig } from "vite";
import { viteSingleFile } from "vite-plugin-singlefile";

// Builds one file without dependencies, which is embedded in the library.
export default defineConfig({
  plugins: [viteSingleFile()],
  build: { target: "es2022", emptyOutDir: true },
});
