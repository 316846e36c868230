/** How many lines the picture has whose lengths are told. */
import { createContext, useContext } from "react";

export const LinesContext = createContext(1080);
export const useLines = () => useContext(LinesContext);
