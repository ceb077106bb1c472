import "@fontsource/atkinson-hyperlegible-next/latin-400.css";
import "@fontsource/atkinson-hyperlegible-next/latin-700.css";
import "@fontsource/atkinson-hyperlegible-next/latin-ext-400.css";
import "@fontsource/atkinson-hyperlegible-next/latin-ext-700.css";
import "./look/tokens.css";
import "./look/base.css";
import "./parts/controls/controls.css";
import { QueryClientProvider } from "@tanstack/react-query";
import { App as AntApp, ConfigProvider } from "antd";
import enGB from "antd/locale/en_GB";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { App } from "./App";
import { newQueries } from "./api/queries";
import { theme } from "./look/theme";
import { Receipts } from "./parts/Receipts";

const queries = newQueries();

const root = document.getElementById("root");
if (root) {
  createRoot(root).render(
    <StrictMode>
      <ConfigProvider theme={theme} locale={enGB} button={{ autoInsertSpace: false }} wave={{ disabled: true }}>
        <QueryClientProvider client={queries}>
          <AntApp>
            <App />
            <Receipts />
          </AntApp>
        </QueryClientProvider>
      </ConfigProvider>
    </StrictMode>,
  );
}
