"""A race as a hundred laps that differ: fuel, tyres, stops, rivals, and what water asks for."""
