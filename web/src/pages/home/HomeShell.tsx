import "./home.css";
import type { ReactNode } from "react";
import { NavLink } from "react-router";
import { Bar } from "../../theme/Bar";

/** The two views of home, what one works on and what there is to work with, under one heading. */
export function HomeShell({ title, lead, children }: { title: string; lead: string; children: ReactNode }) {
  return (
    <div className="home">
      <Bar>
        <nav className="home-views" aria-label="Home">
          <NavLink to="/" end>
            Jobs
          </NavLink>
          <NavLink to="/library">Library</NavLink>
        </nav>
      </Bar>
      <main className="home-main">
        <h1>{title}</h1>
        <p className="home-lead">{lead}</p>
        {children}
      </main>
    </div>
  );
}
